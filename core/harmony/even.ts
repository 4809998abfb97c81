import { deltaE00, type Lab } from '../color/index.ts';

/** The way is looked at in this many places; between them it is taken as straight. */
const PLACES = 256;

/** A way through Lab that is walked on. */
export class Way {
  private readonly points: Lab[];

  constructor(at: (t: number) => Lab) {
    this.points = Array.from({ length: PLACES + 1 }, (_, i) => at(i / PLACES));
  }

  private at(t: number): Lab {
    const i = Math.min(PLACES - 1, Math.floor(t * PLACES));
    const s = t * PLACES - i;
    const [p, q] = [this.points[i]!, this.points[i + 1]!];
    return [p[0] + s * (q[0] - p[0]), p[1] + s * (q[1] - p[1]), p[2] + s * (q[2] - p[2])];
  }

  /** ΔE00 between two places. */
  distance(from: number, to: number): number {
    return deltaE00(this.at(from), this.at(to));
  }

  /** The next place that is so far, ΔE00, from one; null when the way ends before. */
  next(t: number, step: number): number | null {
    const from = this.at(t);
    let before = t;
    for (let i = Math.floor(t * PLACES) + 1; i <= PLACES; i++) {
      if (deltaE00(from, this.points[i]!) < step) {
        before = i / PLACES;
        continue;
      }
      let [low, high] = [before, i / PLACES];
      for (let k = 0; k < 24; k++) {
        const middle = (low + high) / 2;
        if (deltaE00(from, this.at(middle)) < step) low = middle;
        else high = middle;
      }
      return (low + high) / 2;
    }
    return null;
  }

  /** Places of a number of steps of one size from the beginning; fewer where the way ends. */
  walk(step: number, count: number): number[] {
    const places = [0];
    while (places.length <= count) {
      const next = this.next(places.at(-1)!, step);
      if (next === null) break;
      places.push(next);
    }
    return places;
  }

  /** The size that leads to the end in this many equal steps. */
  evenStep(count: number): number {
    let low = 0;
    let high = deltaE00(this.points[0]!, this.points.at(-1)!) * 2 + 100;
    for (let k = 0; k < 40; k++) {
      const middle = (low + high) / 2;
      if (this.walk(middle, count).length > count) low = middle;
      else high = middle;
    }
    return low;
  }

  /** This many places, both ends among them, with the same ΔE00 from each to the next. */
  even(count: number): number[] {
    if (count < 3) return Array.from({ length: count }, (_, i) => i / Math.max(1, count - 1));
    const places = this.walk(this.evenStep(count - 1), count - 1);
    // a way that goes nowhere has no steps
    while (places.length < count) places.push(1);
    places[count - 1] = 1;
    return places;
  }
}
