import { SaxesParser } from 'saxes';
import { gapsOf, type ProfilePoint, profileOf, type TrackPoint } from '#core/trip/track.ts';

/** The most points of one file. */
const MOST_POINTS = 500_000;

/** The way of a file, as a trip takes it. */
export interface GpxWay {
  profile: ProfilePoint[];
  /** Stretches without a point. */
  gaps: { count: number; km: number };
  /** Points that have no height. */
  withoutHeight: number;
  /** Points that have no place. */
  bad: number;
}

/** Name without the prefix of its namespace. */
const local = (name: string): string => name.slice(name.indexOf(':') + 1);

const NOT_GPX = 'That file isn’t GPX. Choose a file with the ending .gpx.';

/** Reads a GPX 1.1 file piece by piece: its tracks, or where it has none its routes. */
export class GpxReader {
  readonly #parser = new SaxesParser();
  /** Names of the elements that are open, the outermost first. */
  readonly #open: string[] = [];
  readonly #points: Record<'trkpt' | 'rtept', TrackPoint[]> = { trkpt: [], rtept: [] };
  #isGpx = false;
  #point: TrackPoint | null = null;
  /** How many elements are open inside of which a child of the point begins. */
  #pointDepth = 0;
  /** Text of the height that is being read. */
  #height: string | null = null;
  readonly #most: number;

  /** @param most points of a file */
  constructor(most = MOST_POINTS) {
    this.#most = most;
    this.#parser.on('opentag', ({ name, attributes }) => {
      const what = local(name);
      if (this.#open.length === 0) this.#isGpx = what === 'gpx';
      if (!this.#isGpx) throw new Error(NOT_GPX);
      this.#open.push(what);
      if (what === 'trkpt' || what === 'rtept') {
        this.#point = {
          lat: Number.parseFloat(attributes.lat ?? ''),
          lon: Number.parseFloat(attributes.lon ?? ''),
          heightM: null,
        };
        this.#pointDepth = this.#open.length;
        this.#points[what].push(this.#point);
      } else if (what === 'ele' && this.#point && this.#open.length === this.#pointDepth + 1) this.#height = '';
    });
    const text = (part: string) => {
      if (this.#height !== null) this.#height += part;
    };
    this.#parser.on('text', text);
    this.#parser.on('cdata', text);
    this.#parser.on('closetag', () => {
      const what = this.#open.pop();
      if (what === 'trkpt' || what === 'rtept') this.#point = null;
      else if (what === 'ele' && this.#point && this.#open.length === this.#pointDepth && this.#height !== null) {
        this.#point.heightM = Number.parseFloat(this.#height);
        this.#height = null;
      }
    });
  }

  /**
   * Read on.
   * @throws Error in words for the owner where this is no GPX
   */
  write(text: string): void {
    this.#ask(() => this.#parser.write(text));
  }

  /**
   * The way, once all is read.
   * @throws Error in words for the owner where the file ends too early, has no points, too many, or none with a height
   */
  end(): GpxWay {
    this.#ask(() => this.#parser.close());
    const { trkpt, rtept } = this.#points;
    const all = trkpt.length > 0 ? trkpt : rtept;
    if (all.length === 0) throw new Error('This file has no track and no route.');
    if (all.length > this.#most)
      throw new Error(
        `This file has ${all.length.toLocaleString('en-GB')} points; up to ${this.#most.toLocaleString('en-GB')} are read.`,
      );
    const points = all.filter(({ lat, lon }) => Math.abs(lat) <= 90 && Math.abs(lon) <= 180);
    let withoutHeight = 0;
    for (const p of points) {
      if (p.heightM !== null && p.heightM >= -500 && p.heightM <= 9000) continue;
      p.heightM = null;
      withoutHeight += 1;
    }
    if (withoutHeight === points.length)
      throw new Error('This file has no heights. Record the way with heights, or type the stages.');
    return { profile: profileOf(points), gaps: gapsOf(points), withoutHeight, bad: all.length - points.length };
  }

  /** What the parser itself says of a file that isn’t well formed is of no use to an owner. */
  #ask(work: () => void): void {
    try {
      work();
    } catch {
      if (!this.#isGpx) throw new Error(NOT_GPX);
      throw new Error(`This file is damaged at line ${this.#parser.line}, or ends too early. Save it again and choose it here.`);
    }
  }
}
