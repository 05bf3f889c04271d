/** A described limit menu, as the machine needs it: values in whole steps. */
export interface MachineMenu {
  /** Names of its values page by page, in the order in which it goes through them. */
  pages: string[][];
  /** Where it opens. */
  opens: string;
  back: boolean;
  free: boolean;
  confirmValue: 'short' | 'long' | null;
  confirmPage: 'short' | 'long' | null;
  /** The press at the end; null: leaving is enough. */
  end: 'short' | 'long' | null;
  /** The value that must stay over or under another one, with an interlock. */
  over: Record<string, string>;
  least: Record<string, number>;
  most: Record<string, number>;
  preset: Record<string, number>;
}

/**
 * A monitor's limit menu as a machine, written apart from the search and from the bench: one value blinks, keys change it, and what isn't
 * confirmed as the description asks is lost.
 */
export class MenuMachine {
  at: string;
  shown: Map<string, number>;
  entered: Map<string, number>;
  kept: Map<string, number>;
  saved: Map<string, number>;
  refused = 0;
  /** Presses that were not made on a value. */
  presses = 0;
  private readonly menu: MachineMenu;

  constructor(menu: MachineMenu) {
    this.menu = menu;
    this.at = menu.opens;
    const preset = () => new Map(Object.entries(menu.preset));
    this.shown = preset();
    this.entered = preset();
    this.kept = preset();
    this.saved = preset();
  }

  copy(): MenuMachine {
    const other = new MenuMachine(this.menu);
    other.at = this.at;
    other.shown = new Map(this.shown);
    other.entered = new Map(this.entered);
    other.kept = new Map(this.kept);
    other.presses = this.presses;
    return other;
  }

  private pageOf(name: string): string[] {
    return this.menu.pages.find((p) => p.includes(name)) ?? [];
  }

  private move(to: string): void {
    const here = this.at;
    if (this.menu.confirmValue) this.shown.set(here, this.entered.get(here) as number);
    if (this.menu.confirmPage && this.pageOf(here) !== this.pageOf(to))
      for (const n of this.pageOf(here)) {
        this.entered.set(n, this.kept.get(n) as number);
        this.shown.set(n, this.kept.get(n) as number);
      }
    this.at = to;
    this.presses += 1;
  }

  go(presses: number): void {
    const all = this.menu.pages.flat();
    if (presses < 0 && !this.menu.back) throw new Error('it only goes on');
    for (let i = 0; i < Math.abs(presses); i += 1)
      this.move(all[(all.indexOf(this.at) + (presses > 0 ? 1 : all.length - 1)) % all.length] as string);
  }

  choose(name: string): void {
    if (!this.menu.free) throw new Error('it is stepped through');
    this.move(name);
  }

  /** Change the value that blinks, step by step; what is refused changes nothing. */
  change(by: 1 | -1): void {
    const next = (this.shown.get(this.at) as number) + by;
    const { over, least, most } = this.menu;
    const above = over[this.at];
    const below = Object.keys(over).find((n) => over[n] === this.at);
    if (
      next < (least[this.at] as number) ||
      next > (most[this.at] as number) ||
      (above !== undefined && next >= (this.shown.get(above) as number)) ||
      (below !== undefined && next <= (this.shown.get(below) as number))
    ) {
      this.refused += 1;
      return;
    }
    this.shown.set(this.at, next);
    if (this.menu.confirmValue) return;
    this.entered.set(this.at, next);
    if (!this.menu.confirmPage) this.kept.set(this.at, next);
  }

  confirm(what: 'value' | 'page', press: 'short' | 'long'): void {
    if (press !== (what === 'value' ? this.menu.confirmValue : this.menu.confirmPage)) throw new Error(`no ${press} press here`);
    this.presses += 1;
    if (what === 'value') {
      this.entered.set(this.at, this.shown.get(this.at) as number);
      if (!this.menu.confirmPage) this.kept.set(this.at, this.shown.get(this.at) as number);
    } else for (const n of this.pageOf(this.at)) this.kept.set(n, this.entered.get(n) as number);
  }

  end(press: 'short' | 'long' | null): void {
    if (press === this.menu.end) this.saved = new Map(this.kept);
  }

  /** All that it knows, for a search that must not see one state twice. */
  state(): string {
    return JSON.stringify([this.at, [...this.shown], [...this.entered], [...this.kept]]);
  }
}

/**
 * The fewest presses beside those on the values after which all wanted values are confirmed: every way through the machine is tried, those
 * of fewer presses first.
 */
export function fewestPresses(menu: MachineMenu, wanted: Record<string, number>): number | null {
  const done = (m: MenuMachine) => Object.entries(wanted).every(([n, v]) => m.kept.get(n) === v);
  const all = menu.pages.flat();
  const seen = new Set<string>();
  let front = [new MenuMachine(menu)];
  for (let presses = 0; presses < 200 && front.length > 0; presses += 1) {
    const next: MenuMachine[] = [];
    // What costs nothing: the value that blinks is brought to what is wanted, or left.
    for (const m of [...front]) {
      const to = wanted[m.at];
      const now = m.shown.get(m.at) as number;
      if (to === undefined || now === to) continue;
      const other = m.copy();
      for (let i = 0; i < Math.abs(to - now); i += 1) other.change(to > now ? 1 : -1);
      if (other.shown.get(other.at) === to) front.push(other);
    }
    for (const m of front) {
      if (done(m)) return presses;
      if (seen.has(m.state())) continue;
      seen.add(m.state());
      const after = (act: (x: MenuMachine) => void) => {
        const other = m.copy();
        act(other);
        next.push(other);
      };
      if (menu.free) for (const n of all) after((x) => x.choose(n));
      else {
        after((x) => x.go(1));
        if (menu.back) after((x) => x.go(-1));
      }
      if (menu.confirmValue) after((x) => x.confirm('value', menu.confirmValue as 'short'));
      if (menu.confirmPage) after((x) => x.confirm('page', menu.confirmPage as 'short'));
    }
    front = next;
  }
  return null;
}
