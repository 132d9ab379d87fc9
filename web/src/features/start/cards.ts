import { useEffect, useState, type RefObject } from "react";
import { api, ask, type Schemas } from "../../api/client";

export type Card = Schemas["ModelCard"];

/** Which card is meant: of a model at a revision, or of an example. */
export interface CardKey {
  model?: string;
  example?: string;
  revision: number;
}

const nameOf = ({ model, example, revision }: CardKey) => `${model ?? `example/${example}`}@${revision}`;

interface Asked {
  card: Promise<Card>;
  /** Places that want it; where none is left before it has come, the server need not make it. */
  places: number;
  isThere: boolean;
  stop: AbortController;
}

/** Cards asked for so far; a change of the model asks for another. */
const known = new Map<string, Asked>();

function want(key: CardKey): Asked {
  const name = nameOf(key);
  let asked = known.get(name);
  if (!asked) {
    const stop = new AbortController();
    const { signal } = stop;
    const card = ask(
      key.model
        ? api.GET("/api/models/{id}/card", { params: { path: { id: key.model } }, signal })
        : api.GET("/api/examples/{key}/card", { params: { path: { key: key.example ?? "" } }, signal }),
    );
    asked = { card, places: 0, isThere: false, stop };
    known.set(name, asked);
    const made = asked;
    card.then(
      () => (made.isThere = true),
      () => known.get(name) === made && known.delete(name),
    );
  }
  asked.places++;
  return asked;
}

function leave(key: CardKey, asked: Asked): void {
  if (--asked.places > 0 || asked.isThere) return;
  known.delete(nameOf(key));
  asked.stop.abort();
}

/** The card of a model, asked for when its place comes into view; null until it is there. */
export function useCard(place: RefObject<Element | null>, key: CardKey): Card | null {
  const [found, setFound] = useState<Card | null>(null);
  const { model, example, revision } = key;
  useEffect(() => {
    const element = place.current;
    if (!element) return;
    const meant = { revision, ...(model ? { model } : { example: example ?? "" }) };
    let asked: Asked | null = null;
    let wanted = true;
    const watch = new IntersectionObserver((entries) => {
      if (!entries.some((e) => e.isIntersecting)) return;
      watch.disconnect();
      asked = want(meant);
      asked.card.then(
        (card) => wanted && setFound(card),
        // Without a card the row still leads to its model.
        () => undefined,
      );
    });
    watch.observe(element);
    return () => {
      wanted = false;
      watch.disconnect();
      if (asked) leave(meant, asked);
    };
  }, [place, model, example, revision]);
  // What was there before stays until the new one is.
  return found;
}
