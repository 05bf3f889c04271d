import { wheelsOf } from '#core/rig/positions.ts';
import { serve } from '../server/main.ts';
import { startGateway } from './gateway.ts';
import { loadDemo } from './load.ts';

await serve(async (app) => {
  console.log('Loading the demo world. The first time this takes a few seconds.');
  await loadDemo(app, Date.now());
  const scout = app.watch
    .rigIds()
    .map((id) => app.watch.rigWithUnits(id))
    .find((w) => w.rig.name === 'Scout');
  await startGateway(
    app,
    wheelsOf(scout?.units ?? []).flatMap((w) => w.wheel.sensor?.id ?? []),
  );
});
