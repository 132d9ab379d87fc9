/** A film of a canvas, by the browser's own recorder. */
export function filmOf(canvas: HTMLCanvasElement): { stop: () => Promise<Blob> } {
  const recorder = new MediaRecorder(canvas.captureStream(30), { mimeType: "video/webm" });
  const pieces: Blob[] = [];
  recorder.ondataavailable = (e) => pieces.push(e.data);
  recorder.start();
  return {
    stop: () =>
      new Promise((done) => {
        recorder.onstop = () => done(new Blob(pieces, { type: "video/webm" }));
        recorder.stop();
      }),
  };
}
