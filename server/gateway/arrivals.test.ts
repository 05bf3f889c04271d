import { expect, it } from 'vitest';
import { Arrivals } from './arrivals.ts';

const T0 = Date.UTC(2026, 4, 1, 8);
const message = { topic: 'tires/A00001', payload: '{"p":250}', messageId: 7 };

it('a message sent again keeps the time it first came', () => {
  const a = new Arrivals();
  expect(a.timeOf(message, T0)).toBe(T0);
  expect(a.timeOf({ ...message, dup: true }, T0 + 4000)).toBe(T0);
  expect(a.timeOf({ ...message, dup: true }, T0 + 600_000)).toBe(T0);
});

it.each([
  ['the same figures under a new number', { ...message, messageId: 8 }, 60_000],
  ['the same number, not sent again', message, 60_000],
  ['sent again with other figures', { ...message, payload: '{"p":249}', dup: true }, 60_000],
  ['sent again under another topic', { ...message, topic: 'tires/A00002', dup: true }, 60_000],
  ['sent again so late that the number is another message’s', { ...message, dup: true }, 600_001],
  ['without a number, as of quality 0', { topic: message.topic, payload: message.payload, dup: true }, 60_000],
  ['sent again after the clock was set back', { ...message, dup: true }, -1],
])('%s is a message of its own', (_, other, after) => {
  const a = new Arrivals();
  a.timeOf(message, T0);
  expect(a.timeOf(other, T0 + after)).toBe(T0 + after);
});

it('a thousand are remembered, the last ones', () => {
  const a = new Arrivals();
  for (let i = 0; i <= 1000; i += 1) a.timeOf({ ...message, messageId: i }, T0 + i);
  expect(a.timeOf({ ...message, messageId: 1, dup: true }, T0 + 5000)).toBe(T0 + 1);
  expect(a.timeOf({ ...message, messageId: 0, dup: true }, T0 + 5000)).toBe(T0 + 5000);
});

it('those of a topic that come in the same millisecond are dated one after the other, until the clock has caught up', () => {
  const a = new Arrivals();
  const come = (messageId: number | undefined, at: number, topic = 'tires') =>
    a.timeOf({ topic, payload: `${messageId}`, messageId }, T0 + at) - T0;
  expect([come(1, 0), come(2, 0), come(undefined, 0), come(4, 1), come(5, 9)]).toEqual([0, 1, 2, 3, 9]);
  // Another topic’s are none of them, and sent again each keeps its own.
  expect(come(6, 0, 'other')).toBe(0);
  expect(a.timeOf({ topic: 'tires', payload: '2', messageId: 2, dup: true }, T0 + 50)).toBe(T0 + 1);
  // Set back, the clock counts again from there.
  expect([come(7, -5000), come(8, -5000)]).toEqual([-5000, -4999]);
});
