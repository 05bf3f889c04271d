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
