import { useEffect, useState } from "react";
import { ApiError } from "../api/client";

/** What a call answers, asked again where what it depends on has changed; an answer that comes too late is not taken. */
export function useAnswer<T>(call: (() => Promise<T>) | null, on: string): { answer: T | null; problem: ApiError | null; busy: boolean } {
  const [state, setState] = useState<{ on: string; answer: T | null; problem: ApiError | null }>({ on: "", answer: null, problem: null });
  useEffect(() => {
    if (!call) return;
    let wanted = true;
    call().then(
      (answer) => wanted && setState({ on, answer, problem: null }),
      (problem: unknown) =>
        wanted && setState({ on, answer: null, problem: problem instanceof ApiError ? problem : new ApiError(0, String(problem)) }),
    );
    return () => {
      wanted = false;
    };
    // The call itself is made anew with every drawing; what it asks is in the key.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [on, call === null]);
  return { answer: state.answer, problem: state.problem, busy: call !== null && state.on !== on };
}
