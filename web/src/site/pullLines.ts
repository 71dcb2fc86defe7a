import type { PullSheet } from "../shared/api";

type Stretch = NonNullable<PullSheet["stretches"]>[number];
type Pull = PullSheet["pulls"][number];

/** The tension along the way, as (m from the first place, N): straight by straight, with a step at each bend. */
export function tensionLine(stretches: readonly Stretch[], pull: Pull): readonly (readonly [number, number])[] {
  const forwards = pull.direction === "forwards";
  const first = forwards ? 0 : (stretches.at(-1)?.to_m ?? 0);
  const line: (readonly [number, number])[] = [[first, 0]];
  for (const step of pull.steps) {
    const stretch = stretches[step.section];
    if (!stretch) continue;
    const { from_m, to_m } = stretch;
    if (forwards) line.push([to_m, step.after_straight_n], [to_m, step.after_bend_n]);
    else line.push([to_m, step.after_bend_n], [from_m, step.after_straight_n]); // it meets the bend first
  }
  return line;
}
