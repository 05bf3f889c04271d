import { act } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { setPreferences } from '../state/preferences.ts';
import { steadyView, wholeRig } from '../testing/rigs.ts';
import { type Lie, RigPlan, SmallPlan } from './RigPlan.tsx';
import { WheelCard } from './WheelCard.tsx';

let box: HTMLDivElement;
let root: Root;
beforeEach(() => {
  (globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;
  box = document.createElement('div');
  document.body.append(box);
  root = createRoot(box);
  setPreferences({ pressure: 'psi', temp: 'C' });
});
afterEach(() => {
  act(() => root.unmount());
  box.remove();
});

const plan = (lie: Lie) => {
  const { units, wheels } = wholeRig();
  act(() =>
    root.render(
      <RigPlan
        label="Plan"
        units={units}
        wheels={wheels}
        lie={lie}
        wheel={(w) => (
          <button type="button" data-position={w.position}>
            {w.position}
          </button>
        )}
      />,
    ),
  );
  const at: Record<string, { row: string; column: string }> = {};
  for (const b of box.querySelectorAll<HTMLElement>('[data-position]')) {
    const { gridRow, gridColumn } = (b.parentElement as HTMLElement).style;
    at[b.dataset.position as string] = { row: gridRow, column: gridColumn };
  }
  return at;
};

describe('the plan', () => {
  it('across: left wheels above the spine, right ones below, outer duals outside, the trailer after its coupling', () => {
    const at = plan('across');
    const row = (p: string) => Number.parseInt(at[p]?.row ?? '', 10);
    const column = (p: string) => Number.parseInt(at[p]?.column ?? '', 10);
    expect(['A2LO', 'A2LI', 'A2RI', 'A2RO'].map(row)).toEqual([2, 3, 5, 6]);
    expect([row('A1L'), row('A1R')]).toEqual([3, 5]);
    expect([column('A1L'), column('A2LO'), column('B1L'), column('BS1')]).toEqual([1, 2, 4, 5]);
  });

  it('up: the same turned, so that left stays left', () => {
    const across = plan('across');
    const up = plan('up');
    for (const [position, { row, column }] of Object.entries(across)) {
      expect(up[position]).toEqual({ row: column, column: row });
    }
  });

  it('from the left the near wheels lie below and the road stays left; from the right the road lies right', () => {
    const above = plan('across');
    const left = plan('fromLeft');
    const right = plan('fromRight');
    const row = (at: typeof above, p: string) => Number.parseInt(at[p]?.row ?? '', 10);
    const column = (at: typeof above, p: string) => Number.parseInt(at[p]?.column ?? '', 10);
    expect(row(left, 'A1L')).toBeGreaterThan(row(left, 'A1R'));
    expect(row(left, 'A2LO')).toBeGreaterThan(row(left, 'A2LI'));
    expect(column(left, 'B1L')).toBeGreaterThan(column(left, 'A1L'));
    expect(row(right, 'A1R')).toBeGreaterThan(row(right, 'A1L'));
    expect(column(right, 'B1L')).toBeLessThan(column(right, 'A1L'));
    for (const p of Object.keys(above)) {
      expect(row(left, p) + row(above, p)).toBe(8);
      expect(column(right, p) + column(above, p)).toBe(6);
    }
  });

  it('arrow keys walk the wheels in plan order and round', () => {
    plan('across');
    const all = [...box.querySelectorAll<HTMLElement>('[data-position]')];
    all[0]?.focus();
    const press = (key: string) =>
      act(() => document.activeElement?.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true })));
    press('ArrowRight');
    expect((document.activeElement as HTMLElement).dataset.position).toBe('A1R');
    press('ArrowLeft');
    press('ArrowLeft');
    expect((document.activeElement as HTMLElement).dataset.position).toBe('BS1');
  });

  it('small: every wheel once, without words', () => {
    const { units, wheels } = wholeRig();
    act(() => root.render(<SmallPlan units={units} wheels={wheels} ink={(w) => (w.position === 'A1L' ? 'act' : 'bare')} />));
    expect(box.querySelectorAll('rect')).toHaveLength(wheels.length);
    expect(box.querySelector('svg')?.getAttribute('aria-hidden')).toBe('true');
  });
});

describe('a wheel on the watch', () => {
  const card = (change: Parameters<typeof steadyView>[0], connected = true) => {
    const select = vi.fn();
    act(() => root.render(<WheelCard view={steadyView(change)} connected={connected} selected={false} onSelect={select} />));
    return { button: box.querySelector('button') as HTMLButtonElement, select };
  };

  it('shows its figure with the unit, and opens on a press', () => {
    const { button, select } = card({});
    expect(button.textContent).toContain('72.5');
    expect(button.textContent).toContain('psi');
    expect(button.dataset.ink).toBe('steady');
    act(() => button.click());
    expect(select).toHaveBeenCalledOnce();
  });

  it('puts an old or silent value in brackets, and draws nothing expected for it', () => {
    for (const { button } of [card({ state: 'silent', active: ['silent'] }), card({}, false)]) {
      expect(button.textContent).toContain('(72.5)');
      expect(box.querySelector('.gauge-expected')).toBeNull();
    }
  });

  it('a live one has two notches, a target and what it should read', () => {
    card({});
    expect(box.querySelectorAll('.gauge-notch')).toHaveLength(2);
    expect(box.querySelectorAll('.gauge-target, .gauge-expected')).toHaveLength(2);
    const bottom = (selector: string, i = 0) =>
      Number.parseFloat(box.querySelectorAll<HTMLElement>(selector)[i]?.style.bottom ?? 'NaN');
    expect(bottom('.gauge-notch', 0)).toBeLessThan(bottom('.gauge-target'));
    expect(bottom('.gauge-target')).toBeLessThan(bottom('.gauge-notch', 1));
  });

  it('says low in a word, never by colour alone', () => {
    const { button } = card({ active: ['low'], pressureKpa: 400 });
    expect(button.dataset.ink).toBe('act');
    expect(button.textContent).toContain('LOW');
    expect(button.getAttribute('aria-label')).toContain('alarm low');
  });

  it('without a sensor there is no figure', () => {
    const { button } = card({ state: 'notPaired', sensorId: null, pressureKpa: null, tempC: null });
    expect(button.textContent).toContain('no sensor');
    expect(button.querySelector('.wheel-figure')).toBeNull();
  });

  it('follows the owner’s unit', () => {
    const { button } = card({});
    act(() => setPreferences({ pressure: 'bar' }));
    expect(button.textContent).toContain('5.00');
    expect(button.textContent).toContain('bar');
  });
});
