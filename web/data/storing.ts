import { useEffect } from 'react';
import { useHealth } from './backups.ts';
import { storageFault } from './problems.ts';

/** Why nothing can be stored now, in words; null: it can be. */
export function useCannotStore(): string | null {
  const { data, dataUpdatedAt, refetch } = useHealth();
  const told = storageFault.use();
  // biome-ignore lint/correctness/useExhaustiveDependencies: each answer counts, also one that says the same
  useEffect(() => {
    if (data?.canStore) storageFault.set(null);
  }, [data, dataUpdatedAt]);
  // Something was refused: see whether that lasts.
  useEffect(() => {
    if (told === null) return;
    const again = setInterval(() => void refetch(), 3000);
    return () => clearInterval(again);
  }, [told, refetch]);
  return data && !data.canStore ? (data.problem ?? 'Nothing can be stored.') : told;
}
