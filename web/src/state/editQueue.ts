import type { Operation } from "./document";

export interface PendingEdit {
  label: string;
  operations: Operation[];
}

/** What went wrong with an edit, as far as the queue has to tell it apart. */
export interface EditFailure {
  /** HTTP status; 0 where the server does not answer. */
  status: number;
  message: string;
  /** Somebody else has changed the same meanwhile. */
  clash?: { by: string; label: string } | null;
}

/** What the queue acts through. */
export interface EditDoor<Answer> {
  /** Stores one edit on the present revision. Rejects with an EditFailure. */
  send(edit: PendingEdit): Promise<Answer>;
  stored(answer: Answer, waiting: number, edit: PendingEdit): void;
  /** Somebody else was first: takes the server's state; the edits that wait are made again on top of it. */
  takeTheirs(): Promise<void>;
  /** Somebody else has changed the same: theirs stands, and the user says whether the edits are made all the same. */
  clashed(edits: readonly PendingEdit[], failure: EditFailure): Promise<void>;
  /** The edit was refused; it and what was made on top of it are gone. */
  refused(edit: PendingEdit, failure: EditFailure): Promise<void>;
  /** The server does not answer; the edit is tried again after this resolves. */
  unreachable(failure: EditFailure): Promise<void>;
}

/** Times that an edit is tried again because somebody else was first. */
const MOST_CONFLICTS = 3;

/**
 * Stores edits one after the other while the user goes on. Nothing typed is lost: an edit leaves the queue when the server has it, or when
 * the server has said why it cannot.
 */
export class EditQueue<Answer> {
  private waiting: PendingEdit[] = [];
  private flushing: Promise<void> | null = null;

  constructor(private readonly door: EditDoor<Answer>) {}

  get edits(): readonly PendingEdit[] {
    return this.waiting;
  }

  push(edit: PendingEdit): void {
    this.waiting.push(edit);
    void this.flush();
  }

  /** Forgets what waits, as when the model is closed. */
  clear(): void {
    this.waiting = [];
  }

  /** Resolves when nothing waits any more. */
  async idle(): Promise<void> {
    while (this.flushing) await this.flushing;
  }

  private flush(): Promise<void> {
    this.flushing ??= this.storeAll().finally(() => {
      this.flushing = null;
    });
    return this.flushing;
  }

  private async storeAll(): Promise<void> {
    let conflicts = 0;
    for (let next = this.waiting[0]; next; next = this.waiting[0]) {
      try {
        const answer = await this.door.send(next);
        if (this.waiting[0] !== next) continue;
        this.waiting.shift();
        conflicts = 0;
        this.door.stored(answer, this.waiting.length, next);
      } catch (e) {
        const failure = e as EditFailure;
        if (failure.clash) {
          const mine = this.waiting;
          this.waiting = [];
          await this.door.clashed(mine, failure);
          continue;
        }
        if (failure.status === 409 && conflicts++ < MOST_CONFLICTS && (await this.tookTheirs())) continue;
        // Who has to sign in again does so with everything still there.
        if (failure.status === 0 || failure.status === 401) {
          await this.door.unreachable(failure);
          continue;
        }
        this.waiting = [];
        await this.door.refused(next, failure);
      }
    }
  }

  /** False where the edits that wait no longer fit the server's state. */
  private async tookTheirs(): Promise<boolean> {
    try {
      await this.door.takeTheirs();
      return true;
    } catch {
      return false;
    }
  }
}
