import type { LoadState } from '#schema/common.ts';
import { useRecords } from '../data/queries.ts';
import { toastError } from '../state/toast.ts';
import { useRig } from '../state/useRig.ts';
import { Switch } from './controls.tsx';

const states: { value: LoadState; text: string }[] = [
  { value: 'empty', text: 'Empty' },
  { value: 'loaded', text: 'Loaded' },
  { value: 'towing', text: 'Towing' },
];

/** How the rig runs now: pressures and limits belong to a load state, and the watch goes by this one. */
export function LoadSwitch() {
  const { rig } = useRig();
  const { changeRig } = useRecords();
  return (
    <div className="flex items-center gap-2 text-note">
      <span className="text-ink2">The rig runs</span>
      <Switch
        label="Load state"
        value={rig.loadState}
        options={states}
        onChange={(loadState) => void changeRig(rig.id, (now) => ({ ...now, loadState })).catch(toastError)}
      />
    </div>
  );
}
