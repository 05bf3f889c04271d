import { useOutletContext } from 'react-router';
import type { WholeRig } from '../data/queries.ts';

/** The rig whose sheet is open. The shell shows a sheet only when it is there. */
export const useRig = (): WholeRig => useOutletContext<WholeRig>();
