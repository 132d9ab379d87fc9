import type { RequirementNode } from "../../state/document";

/** The limit of a requirement as it was typed; nothing for rules, which say it in words. */
export const limitOf = (node: RequirementNode): string =>
  node.rule != null ? "" : `${node.kind === "lowerLimit" ? "≥" : "≤"} ${node.limit}`;
