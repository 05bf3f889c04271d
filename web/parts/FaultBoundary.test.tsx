import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { FaultBoundary } from './FaultBoundary.tsx';
import { PartMissing } from './lazy-part.ts';

let fault: Error | null = null;
function Part() {
  if (fault) throw fault;
  return <p>drawn</p>;
}
const page = (until: string) => (
  <>
    <p>alarms</p>
    <FaultBoundary what="The chart" about="The alarms are not touched by it." until={[until]}>
      <Part />
    </FaultBoundary>
  </>
);
beforeEach(() => vi.spyOn(console, 'error').mockImplementation(() => undefined));
afterEach(() => {
  cleanup();
  fault = null;
  vi.restoreAllMocks();
});

it('a fault stays inside: what stands around goes on, and it can be tried again', async () => {
  fault = new Error('no canvas');
  render(page('a'));
  expect(screen.getByText('alarms')).toBeTruthy();
  expect(screen.getByRole('alert').textContent).toContain('The chart could not be shown');
  expect(screen.getByRole('alert').textContent).toContain('no canvas');
  fault = null;
  await userEvent.click(screen.getByRole('button', { name: 'Try again' }));
  expect(screen.getByText('drawn')).toBeTruthy();
});

it('another sheet begins anew', () => {
  fault = new Error('no canvas');
  const { rerender } = render(page('a'));
  fault = null;
  rerender(page('b'));
  expect(screen.getByText('drawn')).toBeTruthy();
});

it('a part that the server no longer has is not tried again in vain', () => {
  fault = new PartMissing('updated', new Error('404'));
  render(page('a'));
  expect(screen.getByRole('alert').textContent).toContain('has been updated');
  expect(screen.queryByRole('button', { name: 'Try again' })).toBeNull();
  expect(screen.getByRole('button', { name: 'Load the page again' })).toBeTruthy();
});

it('a part that is stuck says so, and that loading the page again helps', () => {
  fault = new PartMissing('stuck', new TypeError('Failed to fetch'));
  render(page('a'));
  expect(screen.getByRole('alert').textContent).toContain('The connection dropped while it was being fetched');
  expect(screen.queryByRole('button', { name: 'Try again' })).toBeNull();
});
