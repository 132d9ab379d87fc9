/** How forms of controllers are called on the stage. */
const names: Record<string, string> = {
  rejection1: "rejecting, 1st order",
  rejection2: "rejecting, 2nd order",
};

export const formName = (form: string) => names[form] ?? form;

/** The same where there is little room. */
export const formMark = (form: string) => (form === "rejection1" ? "rej. 1" : form === "rejection2" ? "rej. 2" : form);
