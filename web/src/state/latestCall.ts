/** Calls of one kind, of which only the newest matters: one is under way, and of those asked for meanwhile the last one follows. */
export class LatestCall {
  private running = false;
  private next: (() => void) | null = null;

  run<T>(call: () => Promise<T>, done: (answer: T) => void, failed: (problem: unknown) => void): void {
    const begin = () => {
      this.running = true;
      call()
        .then(
          (answer) => !this.next && done(answer),
          (problem: unknown) => !this.next && failed(problem),
        )
        .finally(() => {
          this.running = false;
          const following = this.next;
          this.next = null;
          following?.();
        });
    };
    if (this.running) this.next = begin;
    else begin();
  }
}
