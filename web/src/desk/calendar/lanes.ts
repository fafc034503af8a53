// What lies in a lane from one point to another.
export type Stretch = { from: number; to: number };

// lanes puts stretches beside each other where they overlap: each gets the first
// lane that is free, and how many lanes those that touch each other need.
export function lanes<T extends Stretch>(list: T[]): (T & { lane: number; of: number })[] {
  const sorted = [...list].sort((a, b) => a.from - b.from || b.to - a.to);
  const out: (T & { lane: number; of: number })[] = [];
  let group: (T & { lane: number; of: number })[] = [];
  let ends: number[] = [];
  let reach = Number.NEGATIVE_INFINITY;
  const close = () => {
    for (const x of group) x.of = ends.length;
    group = [];
    ends = [];
  };
  for (const s of sorted) {
    if (s.from >= reach) close();
    let lane = ends.findIndex((end) => end <= s.from);
    if (lane < 0) lane = ends.length;
    ends[lane] = s.to;
    reach = Math.max(reach, s.to);
    const placed = { ...s, lane, of: 1 };
    group.push(placed);
    out.push(placed);
  }
  close();
  return out;
}
