import type { ReactNode } from "react";
import { useShallow } from "zustand/react/shallow";
import { useCases } from "../../state/cases";
import { CaseCourses } from "./CaseCourses";

/** Below: why the chosen case came out as it did; the traces of the present run where none is chosen. */
export default function VerifyBelow({ traces }: { traces: ReactNode }) {
  const { view, chosen, detail } = useCases(useShallow((s) => ({ view: s.view, chosen: s.case, detail: s.detail })));
  return view === "cases" && chosen !== null && detail?.result ? <CaseCourses result={detail.result} detail={detail} /> : traces;
}
