import type { ThemeConfig } from "antd";

/** The harbour chart's colours and type as Ant Design tokens. */
export const theme: ThemeConfig = {
  token: {
    colorPrimary: "#D9481C",
    colorText: "#17324D",
    colorTextSecondary: "#5B6E80",
    colorTextDescription: "#5B6E80",
    colorBorder: "#D9D4C7",
    colorBorderSecondary: "#E8E4D9",
    colorBgLayout: "#F6F4EE",
    colorError: "#B3261E",
    colorSuccess: "#2E7D5B",
    colorWarning: "#B07900",
    colorInfo: "#4A6A8A",
    colorLink: "#B23A14",
    fontFamily: '"IBM Plex Sans", sans-serif',
    fontFamilyCode: '"IBM Plex Mono", monospace',
    fontSize: 13,
    borderRadius: 6,
    motionDurationMid: "0.1s",
    motionDurationSlow: "0.15s",
  },
  components: { Table: { headerBg: "#FBFAF6", cellPaddingBlockSM: 6 } },
};
