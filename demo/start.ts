import { serve } from '../server/main.ts';
import { loadDemo } from './load.ts';

await serve(async (app) => {
  console.log('Loading the demo world. The first time this takes a few seconds.');
  await loadDemo(app, Date.now());
});
