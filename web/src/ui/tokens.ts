import type { ThemeConfig } from "antd";

/** Colours of the harbour chart. */
const chart = {
  paper: "#f6f4ee",
  surface: "#ffffff",
  wash: "#fbfaf6",
  ink: "#17324d",
  quiet: "#5b6e80",
  faint: "#636f7b",
  line: "#d9d4c7",
  hair: "#e8e4d9",
  grid: "#e2ddcf",
  edge: "#8fa0af",
  dashes: "#b9c2c9",
  shade: "#dcd6c6",
  buoy: "#d9481c",
  "buoy-deep": "#b23a14",
  "buoy-wash": "#fbe9e2",
  met: "#2e7d5b",
  "met-deep": "#26694c",
  "met-wash": "#e6f0ea",
  missed: "#b3261e",
  "missed-wash": "#f8e6e2",
  caution: "#b07900",
  "caution-deep": "#7a5400",
  "caution-wash": "#fbf3e0",
  translational: "#4a6a8a",
  plane: "#54606b",
  rotational: "#7a4e8c",
  electrical: "#a9741a",
  hydraulic: "#0f7f82",
  thermal: "#b4446c",
  fluid: "#7c5332",
  night: "#24486b",
  "night-line": "#3c5b78",
  "night-quiet": "#b4c4d2",
} as const;

export type Token = keyof typeof chart;

/** Where more contrast is wished for, what is quiet is not, and lines are seen. */
const strong: Partial<Record<Token, string>> = {
  quiet: "#17324d",
  faint: "#2c4660",
  line: "#5b6e80",
  hair: "#8fa0af",
  edge: "#17324d",
  dashes: "#5b6e80",
  "buoy-deep": "#8f2a0b",
  "night-line": "#8fa0af",
  "night-quiet": "#ffffff",
};

/** What the browser was told of its user's wishes. */
export const wishes = (query: string): boolean => typeof matchMedia === "function" && matchMedia(query).matches;

/** The tokens as somebody sees them. */
export const tokensFor = (wishesContrast: boolean): Readonly<Record<Token, string>> => (wishesContrast ? { ...chart, ...strong } : chart);

/** The one place that style sheets, Ant Design and the canvas take colours from. */
export const tokens = tokensFor(wishes("(prefers-contrast: more)"));

/** The colour of a physical domain; ink for signals. */
export const domainColor = (domain: string | null | undefined): string =>
  domain && domain in tokens ? tokens[domain as Token] : tokens.ink;

/** Hands the tokens to the style sheets as custom properties. */
export function applyTokens(element: HTMLElement): void {
  for (const [name, value] of Object.entries(tokens)) element.style.setProperty(`--${name}`, value);
}

/** The tokens as Ant Design takes them. */
export const theme: ThemeConfig = {
  token: {
    colorPrimary: tokens["buoy-deep"],
    colorPrimaryHover: tokens["buoy-deep"],
    colorPrimaryActive: tokens["buoy-deep"],
    colorText: tokens.ink,
    colorTextSecondary: tokens.quiet,
    colorTextDescription: tokens.quiet,
    colorTextPlaceholder: tokens.faint,
    colorBorder: tokens.line,
    colorBorderSecondary: tokens.hair,
    colorBgLayout: tokens.paper,
    colorError: tokens.missed,
    colorSuccess: tokens.met,
    colorWarning: tokens.caution,
    colorInfo: tokens.translational,
    colorLink: tokens["buoy-deep"],
    fontFamily: '"IBM Plex Sans", sans-serif',
    fontFamilyCode: '"IBM Plex Mono", monospace',
    fontSize: 13,
    borderRadius: 6,
    motion: !wishes("(prefers-reduced-motion: reduce)"),
    motionDurationMid: "0.1s",
    motionDurationSlow: "0.15s",
  },
  components: { Table: { headerBg: tokens.wash, cellPaddingBlockSM: 6 } },
};
