/** Drawn faces: small curves on faint axes. */
const paths: Record<string, string> = {
  step: "M4 22H18V8H36",
  ramp: "M4 22H12L28 8H36",
  sine: "M4 15C8 3 14 3 20 15S32 27 36 15",
  square: "M4 22V8H12V22H20V8H28V22H36",
  pulse: "M4 22H8V8H12V22H20V8H24V22H32V8H36",
  chirp: "M3 15C7 4 10 4 13 15S18 26 20 15S24 4 26 15S29 26 31 15S33 4 35 15",
  table: "M4 22L12 12L20 17L28 7L36 11",
  saturation: "M4 23H13L27 7H36",
  deadzone: "M4 25L14 15H26L36 5",
  rate: "M4 24L18 15L24 8H36",
  relay: "M4 22H24M16 22V8M24 22V8M16 8H36",
  switch: "M4 8H13L27 15H36M4 22H13",
  probe: "M6 15H34",
};

export function Symbol({ name }: { name: string }) {
  const axes = name !== "switch" && name !== "probe";
  return (
    <svg viewBox="0 0 40 30" width="40" height="30" fill="none" aria-hidden>
      {axes && <path d="M3 15H37M20 3V27" stroke="var(--line)" strokeWidth="1" />}
      <path d={paths[name] ?? "M4 15H36"} stroke="var(--ink)" strokeWidth="1.4" strokeLinejoin="round" />
      {name === "switch" && <path d="M20 3V10" stroke="var(--ink)" strokeWidth="1.2" strokeDasharray="2 2" />}
      {name === "probe" && <circle cx="20" cy="15" r="5" fill="var(--buoy)" />}
    </svg>
  );
}
