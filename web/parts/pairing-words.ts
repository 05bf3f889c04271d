import type { PairingSign, PairingStyle } from '#schema/unit.ts';

/** Ways of pairing and what a display shows, by their names: for the Pairing sheet and for a monitor's description. */

export const styleNames: Record<PairingStyle, string> = {
  heldNear: 'Held near the monitor',
  screwedOn: 'Screwed onto the valve',
  cellIn: 'Cell put in',
  wakeTool: 'Wake tool, in a fixed order',
  inflateBleed: 'A little air in or out',
  phoneFirst: 'Wheel chosen on the phone first',
  carried: 'Monitor carried to the wheel',
  factory: 'Coded by position at the factory',
};

export const signNames: Record<PairingSign, string> = {
  id: 'The sensor’s ID',
  pressure: 'Its pressure',
  lamp: 'A lamp, red to green',
  beep: 'A beep',
};
