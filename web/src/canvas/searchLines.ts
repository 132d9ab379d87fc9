import { NAME, ROOM, type Item } from "./obstacles";
import { APART, COST, LANE } from "./routeCosts";
import type { Stretch } from "./tracks";

/** Lanes beside each part, fewer where there are many parts, and most lines. */
const LANES = 3;
const MANY = 120;
const MOST_LINES = 240;

/** What running beside a part too near costs, and running through it: once, and for each px. */
const NEAR = { once: 60, each: 2 };
const THROUGH = { once: 600, each: 8 };

/** What going along another wire costs. */
const SHARED = { once: 100, each: COST.shared };

/**
 * The lines of one direction that a way can be searched on: beside the parts, between the ends, and through the ends themselves; with
 * what it costs to go along them.
 */
export class Lines {
  private readonly places: readonly number[];
  /** By line and step; found when the line is first gone along. */
  private readonly costs: (Float64Array | undefined)[];
  private readonly parts: Bands<Item>;
  private readonly along: Bands<Stretch>;
  private readonly across: Bands<Stretch>;

  /** @param axis The coordinate that a line has: x for columns. */
  constructor(
    private readonly axis: "x" | "y",
    ends: readonly [number, number],
    near: readonly Item[],
    stretches: readonly Stretch[],
  ) {
    const all = new Set<number>();
    const middle = (ends[0] + ends[1]) / 2;
    for (const item of near) {
      const [low, high] = axis === "x" ? [item.minX, item.maxX] : [item.minY, item.maxY];
      const lanes = near.length < MANY ? LANES : LANES - 1;
      for (let i = 0; i < lanes; i++) {
        all.add(Math.floor(low / LANE) * LANE - i * LANE);
        all.add(Math.ceil(high / LANE) * LANE + i * LANE);
      }
    }
    for (let i = -LANES; i <= LANES; i++) all.add(Math.round(middle / LANE) * LANE + i * LANE);
    // Room to turn around beside the ends.
    for (const end of ends) for (const side of [-2, 2]) all.add(Math.round(end / LANE + side) * LANE);
    const distance = (p: number) => Math.min(Math.abs(p - ends[0]), Math.abs(p - ends[1]), Math.abs(p - middle));
    const nearest = all.size <= MOST_LINES ? [...all] : [...all].sort((p, q) => distance(p) - distance(q)).slice(0, MOST_LINES);
    this.places = [...new Set([...nearest, ...ends])].sort((p, q) => p - q);
    this.parts = new Bands(near, (i) => (axis === "x" ? [i.minX, i.maxX] : [i.minY, i.maxY]));
    this.along = new Bands(
      stretches.filter((s) => s.isRow === (axis === "y")),
      (s) => [s.at - APART, s.at + APART],
    );
    // In their order, so that they can be counted between one line and the next.
    this.across = new Bands(
      stretches.filter((s) => s.isRow !== (axis === "y")).sort((a, b) => a.at - b.at),
      (s) => [s.from, s.to],
    );
    this.costs = new Array<Float64Array | undefined>(this.places.length);
  }

  get count(): number {
    return this.places.length;
  }

  at(line: number): number {
    return this.places[line] as number;
  }

  indexOf(place: number): number {
    return this.places.indexOf(place);
  }

  /** What a step along a line costs, from one of the lines across to the next. */
  step(line: number, across: Lines, index: number): number {
    return (this.costs[line] ??= this.costsOf(line, across))[index] as number;
  }

  private costsOf(line: number, { places }: Lines): Float64Array {
    const at = this.at(line);
    const costs = new Float64Array(places.length);
    for (let i = 0; i + 1 < places.length; i++) costs[i] = (places[i + 1] as number) - (places[i] as number);
    this.addParts(at, places, costs);
    for (const s of this.along.at(at))
      if (Math.abs(s.at - at) < APART)
        eachStep(places, s.from, s.to, (i, length) => (costs[i] = (costs[i] as number) + SHARED.once + SHARED.each * length));
    let i = 0;
    for (const s of this.across.at(at)) {
      if (s.from >= at || s.to <= at) continue;
      while (i + 1 < places.length && (places[i + 1] as number) < s.at) i++;
      if (s.at > (places[i] as number)) costs[i] = (costs[i] as number) + COST.crossing;
    }
    return costs;
  }

  private addParts(at: number, places: readonly number[], costs: Float64Array): void {
    const isColumn = this.axis === "x";
    for (const item of this.parts.at(at)) {
      const [low, high, before, behind] = isColumn
        ? [item.minY, item.maxY, item.minX, item.maxX]
        : [item.minX, item.maxX, item.minY, item.maxY];
      if (at <= before || at >= behind) continue;
      const [first, side] = isColumn ? [NAME, ROOM] : [ROOM, NAME];
      const isInside = at > before + side && at < behind - ROOM;
      eachStep(places, low, high, (i, length) => {
        const isThrough = isInside && low + first < (places[i + 1] as number) && high - ROOM > (places[i] as number);
        const { once, each } = isThrough ? THROUGH : NEAR;
        costs[i] = (costs[i] as number) + once + each * length;
      });
    }
  }
}

/** The steps between places that a stretch has a part in, with the length of that part. */
function eachStep(places: readonly number[], from: number, to: number, of: (index: number, length: number) => void): void {
  let [low, high] = [0, places.length - 1];
  // The last place that is not beyond the beginning.
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((places[middle] as number) <= from) low = middle;
    else high = middle - 1;
  }
  for (let i = low; i + 1 < places.length && (places[i] as number) < to; i++) {
    const length = Math.min(to, places[i + 1] as number) - Math.max(from, places[i] as number);
    if (length > 0) of(i, length);
  }
}

/** Width of the bands that things are kept by, in px. */
const BAND = 64;

/** Things by the place on a line across: only few of many lie at any one. */
class Bands<T> {
  private readonly lists = new Map<number, T[]>();

  constructor(things: readonly T[], span: (thing: T) => [number, number]) {
    for (const thing of things) {
      const [low, high] = span(thing);
      for (let band = Math.floor(low / BAND); band <= Math.floor(high / BAND); band++) {
        const list = this.lists.get(band);
        if (list) list.push(thing);
        else this.lists.set(band, [thing]);
      }
    }
  }

  at(place: number): readonly T[] {
    return this.lists.get(Math.floor(place / BAND)) ?? [];
  }
}
