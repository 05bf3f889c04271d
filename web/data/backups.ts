import { useQuery } from '@tanstack/react-query';
import { ask } from './api.ts';

const HEALTH_EVERY_MS = 20_000;

export const backupKeys = { health: ['health'] as const, list: ['backups'] as const };

/** Whether the server can store, and when it was backed up last; asked again every 20 s. */
export const useHealth = () =>
  useQuery({
    queryKey: backupKeys.health,
    queryFn: () => ask('health', {}),
    refetchInterval: HEALTH_EVERY_MS,
    staleTime: HEALTH_EVERY_MS / 2,
  });

export const useBackups = () => useQuery({ queryKey: backupKeys.list, queryFn: () => ask('backups', {}) });
