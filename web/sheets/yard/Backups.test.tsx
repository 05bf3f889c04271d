import { screen, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { BackupEntry, BackupList } from '#schema/backup.ts';
import { mount } from '../../testing/mount.tsx';
import Backups from './Backups.tsx';

const MINUTE = 60_000;
const DAY = 86_400_000;
const made = (agoMs: number): BackupEntry => ({
  name: 'druckwerk-2026-05-01T08-00-00Z-daily.tar.gz',
  why: 'daily',
  madeAt: new Date(Date.now() - agoMs).toISOString(),
  bytes: 4_900_000,
});
const list = (change: Partial<BackupList>): BackupList => ({ backups: [], problem: null, keptAside: [], ...change });
/** The line that is there while the list is folded. */
const summary = async (pattern: RegExp) => (await screen.findByText(pattern)).closest('summary') as HTMLElement;

describe('how old the last backup is', () => {
  it.each([
    ['none', [], /none yet/],
    ['one of now', [made(10_000)], /the last one just now/],
    ['a page whose clock is a little behind', [made(-2 * MINUTE)], /the last one just now/],
    ['one of three days ago', [made(3 * DAY)], /the last one 3 days ago/],
    ['one that a clock years ahead made', [made(-400 * DAY)], /is dated .*still to come: check the clock/],
  ])('%s', async (_name, backups, words) => {
    mount(<Backups />, { 'GET /backups': list({ backups }) });
    expect(await summary(words)).toBeTruthy();
  });
});

it('a backup that failed opens the list and says why', async () => {
  mount(<Backups />, { 'GET /backups': list({ problem: 'The disk is full, so nothing more can be stored. Make room on it.' }) });
  const said = await screen.findByText('The last backup failed.');
  expect(said.closest('details')?.open).toBe(true);
  expect(within(said.parentElement as HTMLElement).getByText(/Make room on it/)).toBeTruthy();
});

it('a backup that can’t be made now is said, and the button is there again', async () => {
  const { user, toasts } = mount(<Backups />, { 'GET /backups': list({}), 'POST /backups': 507 });
  await screen.findByText('none yet');
  await user.click(screen.getByRole('button', { name: 'Back up now', hidden: true }));
  await expect.poll(() => toasts.length).toBe(1);
  expect(screen.getByRole('button', { name: 'Back up now', hidden: true })).toHaveProperty('disabled', false);
});
