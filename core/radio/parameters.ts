import type { BodyMaterial } from '#schema/unit.ts';

/**
 * What the radio estimate is made of, in one table. Frequency: trade. Sender, receivers, losses, fading: assumed, no published source; a
 * measured signal corrects them. Free space is law (ITU-R P.525).
 */
export const RADIO = {
  frequencyMhz: 433.92,
  senderDbm: -15,
  monitorDbm: -100,
  repeaterDbm: -105,
  /** A phone as receiver of a repeater: its band and what it still hears. Assumed. */
  phoneMhz: 2440,
  phoneDbm: -90,
  /** The weakest signal at the seat that is good, dB (common practice, no source). */
  seatGoodDb: -80,
  /** What a repeater sends on with. Assumed. */
  repeaterSendDbm: 5,
  /** Tire and rim, least and most, dB. */
  tireRimDb: [8, 15],
  bodyDb: { steel: [15, 25], aluminium: [12, 20], wood: [3, 6] } satisfies Record<BodyMaterial, readonly [number, number]>,
  /** A metal tank or box between the axles, dB. */
  tankDb: [10, 20],
  dualInnerDb: 4,
  fadingDb: 6,
  copies: 3,
  /** Share of the variance that copies of one frame have in common. */
  common: 0.5,
  /** A sensor sends about once a minute on the move, s (trade). */
  sendS: 60,
} as const;
