import { QueryClientProvider } from '@tanstack/react-query';
import { setNonce } from 'get-nonce';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { App } from './app/App.tsx';
import { queryClient } from './data/queries.ts';
import { FaultBoundary } from './parts/FaultBoundary.tsx';
import './styles.css';

// Radix locks scrolling with a style element of its own: it needs the page's nonce.
const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;
if (nonce) setNonce(nonce);

// The page works without a connection too, where the browser allows that (https, or this machine).
if (import.meta.env.PROD && 'serviceWorker' in navigator) {
  window.addEventListener('load', () => void navigator.serviceWorker.register('/worker.js').catch(() => undefined));
}

const root = document.getElementById('root');
if (!root) throw new Error('The page has no root element');
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queryClient}>
      <BrowserRouter>
        <FaultBoundary what="Druckwerk" about="This page has stopped updating. The watch itself is still running on the server.">
          <App />
        </FaultBoundary>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
