/** Hands a file to the browser, which saves it. */
export function download(blob: Blob, name: string): void {
  const link = window.document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  // Some browsers read it only after the click is done.
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
