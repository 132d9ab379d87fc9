import { create } from "zustand";
import { api, ask, SIGNED_OUT, type Schemas } from "../api/client";
import { setAuthor } from "./author";

/** Who is signed in; null until the server has said. */
export const useMe = create<{ me: Schemas["MeView"] | null }>(() => ({ me: null }));

/** Asks the server who is signed in. */
export async function readMe(): Promise<void> {
  const me = await ask(api.GET("/api/me"));
  if (me.name) setAuthor(me.name);
  useMe.setState({ me });
}

export async function signOut(): Promise<void> {
  await ask(api.POST("/api/sign-out"));
  setAuthor("");
  await readMe();
}

// Whom the server does not know any more, it is asked about: the page then shows the way in.
window.addEventListener(SIGNED_OUT, () => {
  const { me } = useMe.getState();
  if (me?.account) useMe.setState({ me: { ...me, account: null } });
});
