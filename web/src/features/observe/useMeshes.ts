import { useEffect, useState } from "react";
import type { BufferGeometry } from "three";
import { fetchMesh } from "../../api/meshes";
import { meshesOf, type Body } from "../../scene/bodies";
import { notifyError } from "../../state/bench";

/** Meshes that have come, for every scene of this window: a hash says what is in it. */
const known = new Map<string, BufferGeometry>();

/** The meshes that bodies show, and the share of them that has come; null once there is nothing to wait for. */
export function useMeshes(bodies: readonly Body[] | null): { meshes: ReadonlyMap<string, BufferGeometry>; share: number | null } {
  const [share, setShare] = useState<number | null>(null);
  useEffect(() => {
    const missing = bodies === null ? [] : meshesOf(bodies).filter((hash) => !known.has(hash));
    if (missing.length === 0) return setShare(null);
    let isWanted = true;
    const load = async () => {
      setShare(0);
      const { meshOf } = await import("../../scene/carried");
      for (const [i, hash] of missing.entries()) {
        const bytes = await fetchMesh(hash, (come, all) => isWanted && setShare((i + (all > 0 ? come / all : 0)) / missing.length));
        known.set(hash, meshOf(bytes));
      }
    };
    load()
      .catch((e: Error) => isWanted && notifyError(e.message))
      .finally(() => isWanted && setShare(null));
    return () => void (isWanted = false);
  }, [bodies]);
  return { meshes: known, share };
}
