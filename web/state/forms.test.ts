import { describe, expect, it } from 'vitest';
import { validators } from '../../generated/forms.js';
import { checkedBy, nestErrors } from './forms.ts';

describe('forms', () => {
  it('put a problem at the field its pointer names', () => {
    expect(nestErrors([{ pointer: '/rows/0/cold', detail: 'no' }])).toEqual({
      rows: { 0: { cold: { type: 'invalid', message: 'no' } } },
    });
    expect(nestErrors([{ pointer: '', detail: 'no' }])).toEqual({ root: { type: 'invalid', message: 'no' } });
  });

  it('keep the first problem of a field', () => {
    const errors = nestErrors([
      { pointer: '/id', detail: 'first' },
      { pointer: '/id', detail: 'second' },
    ]);
    expect(errors).toEqual({ id: { type: 'invalid', message: 'first' } });
  });

  it('are checked by the compiled schema', async () => {
    const resolve = checkedBy(validators.sensorId, (v: { id: string }) => ({ value: v }));
    const run = (id: string) => resolve({ id }, undefined, {} as never);
    expect(await run('4CA1E0')).toEqual({ values: { id: '4CA1E0' }, errors: {} });
    for (const wrong of ['', '4CA1E', '4CA1E00', 'FFFFFF', 'ffffff', 'O00000']) {
      expect(Object.keys((await run(wrong)).errors)).toEqual(['id']);
    }
  });
});
