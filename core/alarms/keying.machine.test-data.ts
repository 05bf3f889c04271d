/** What a simulated monitor is made of, in its own unit. */
interface MachineSpec {
  step: number;
  min: number;
  max: number;
  presetLow: number | null;
  presetHigh: number | null;
  interlock: boolean;
}

/**
 * A simulated monitor, written apart from the planner: it knows presets, a step, a range and an interlock, is worked key by key, and
 * refuses what the interlock refuses. Its figures are whole numbers of steps, so that no arithmetic is shared with what it tests.
 */
export class KeyedMachine {
  private readonly limits = new Map<string, { low: number | null; high: number | null }>();
  private readonly least: number;
  private readonly most: number;
  refusals = 0;
  presses = 0;

  private readonly spec: MachineSpec;

  constructor(groups: readonly string[], spec: MachineSpec) {
    this.spec = spec;
    this.least = Math.ceil(spec.min / spec.step - 1e-6);
    this.most = Math.floor(spec.max / spec.step + 1e-6);
    const inSteps = (v: number | null) => (v === null ? null : Math.round(v / spec.step));
    for (const g of groups) this.limits.set(g, { low: inSteps(spec.presetLow), high: inSteps(spec.presetHigh) });
  }

  /** One press of up or down on a limit. A press that is refused changes nothing. */
  press(group: string, field: 'low' | 'high', direction: 1 | -1): boolean {
    const at = this.limits.get(group);
    const value = at?.[field];
    if (!at || value === null || value === undefined) throw new Error(`no ${field} in ${group}`);
    const next = { ...at, [field]: value + direction };
    this.presses += 1;
    const outside = value + direction < this.least || value + direction > this.most;
    const crossed = this.spec.interlock && next.low !== null && next.high !== null && next.low >= next.high;
    if (outside || crossed) {
      this.refusals += 1;
      return false;
    }
    this.limits.set(group, next);
    return true;
  }

  /** Follow a card: from each step's first figure, press until its last one. False when the first figure is not what is shown. */
  follow(steps: readonly { group: string; field: 'low' | 'high'; from: number; to: number; presses: number }[]): boolean {
    return steps.every(({ group, field, from, to, presses }) => {
      if (Math.abs((this.read(group, field) ?? Number.NaN) - from) > 1e-6) return false;
      for (let i = 0; i < presses; i += 1) if (!this.press(group, field, to > from ? 1 : -1)) return false;
      return Math.abs((this.read(group, field) ?? Number.NaN) - to) < 1e-6;
    });
  }

  /** What it shows. */
  read(group: string, field: 'low' | 'high'): number | null {
    const value = this.limits.get(group)?.[field];
    return value === null || value === undefined ? null : value * this.spec.step;
  }
}
