import type { Verdict } from "../api/client";
import { tokens } from "../ui/tokens";
import type { Rule } from "./curves";

/**
 * What verdicts want of one signal, as levels with the side that is not allowed: each occasion in the colour of its own outcome, what is
 * missed on top of what is met.
 */
export function limitRules(verdicts: readonly Verdict[], recorded: string, read: (value: number) => number): Rule[] {
  const found: Rule[] = [];
  for (const v of verdicts)
    for (const of of v.occasions?.length ? v.occasions : [v])
      for (const l of of.lines ?? [])
        if (l.signal === recorded)
          found.push({
            from: Number(l.from),
            to: Number(l.to),
            value: read(Number(l.value)),
            color: of.kind === "missed" ? tokens.missed : of.kind === "met" ? tokens.met : tokens.quiet,
            ...(l.isOnce ? { once: true } : { beyond: l.isUpper ? ("above" as const) : ("below" as const) }),
          });
  const depth = (r: Rule) => (r.color === tokens.missed ? 1 : 0);
  return found.sort((a, b) => depth(a) - depth(b));
}
