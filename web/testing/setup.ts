import { cleanup, configure } from '@testing-library/react';
import { afterEach, beforeAll } from 'vitest';

// What a page shows after an answer may take longer than a second on a busy machine.
configure({ asyncUtilTimeout: 10_000 });

// Dates are written as the browser writes them: here one that everybody who runs the tests has.
Object.defineProperty(navigator, 'language', { value: 'en-GB', configurable: true });

// Files share a process: each begins with an empty page and nothing kept, and leaves nothing on the page.
beforeAll(() => {
  document.body.replaceChildren();
  localStorage.clear();
  sessionStorage.clear();
});
afterEach(cleanup);
