/** How near two parallel stretches look like one, and how far apart lanes lie. */
export const APART = 6;
export const LANE = 8;

/** What a way costs beside its length, in diagram pixels. */
export const COST = { hit: 2000, shared: 25, bend: 24, crossing: 16 };
