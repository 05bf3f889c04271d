import { type FileHandle, open } from 'node:fs/promises';
import { tidyLog } from './in-thread.ts';
import { cannotStore, type StorageProblem, storageFault } from './storage.ts';

/** What nobody waits for is on the disk this much later, ms. */
const UNASKED_MS = 200;
/** When the log is tidied. */
export interface Tidying {
  /** A log of this size is tidied, bytes. With four times as much nobody writes until it is: else a disk that is slower than what comes in is full. */
  logBytes: number;
  /** Its size is looked at this often, ms: it takes as long as waiting for a quick disk. */
  lookMs: number;
  /** Tidying rests after each step, ms; only tests say so. */
  restMs?: number;
}
const TIDYING: Tidying = { logBytes: 16 * 2 ** 20, lookMs: 250 };
/** After tidying that didn't come to its end it is tried again this much later, ms. */
const TIDY_AGAIN_MS = 5000;

/**
 * Sees to it that what was committed is on the disk, and says when. SQLite would wait for the disk in the one thread that answers everybody: with a
 * memory card that takes 50 ms each time, and seconds now and then, nobody would be answered. So it writes without waiting (`synchronous NORMAL`), and
 * this waits beside everything else: for its log (https://sqlite.org/wal.html), once for all commits that are waiting. What is in the log up to there
 * is found again after a power cut.
 */
export class Disk {
  readonly #file: string;
  #log: FileHandle | null = null;
  #logBytes = 0;
  /** Commits so far, and those of them that are on the disk. */
  #written = 0;
  #kept = 0;
  #syncing: Promise<void> | null = null;
  #later: NodeJS.Timeout | null = null;
  #tidying: Promise<boolean> | null = null;
  readonly #gate = new Int32Array(new SharedArrayBuffer(4));
  /** Until when, by a clock that nobody sets, the log is not looked at again. */
  #leaveMs = 0;
  /** The system may have given up what it couldn't write, and then a later success says nothing of it. */
  #doubtful = false;
  /** Why it could not be brought to the disk last; null: it could. */
  failed: StorageProblem | null = null;

  readonly #when: Tidying;

  /** @param file the database, in WAL mode */
  constructor(file: string, when: Tidying = TIDYING) {
    this.#file = file;
    this.#when = when;
  }

  /** Something was committed. It is on the disk a little later, also when nobody asks. */
  wrote(): void {
    this.#written += 1;
    this.#later ??= setTimeout(() => {
      this.#later = null;
      // Whoever asks gets the error.
      this.kept().catch(() => undefined);
    }, UNASKED_MS).unref();
  }

  /** Resolves when everything that was committed until now is on the disk. @throws StorageProblem when that isn't known */
  async kept(): Promise<void> {
    const wanted = this.#written;
    while (this.#kept < wanted) {
      this.#syncing ??= this.#sync().finally(() => {
        this.#syncing = null;
      });
      await this.#syncing;
    }
  }

  async #sync(): Promise<void> {
    const upTo = this.#written;
    try {
      if (this.#doubtful) await this.#rewrite();
      else {
        this.#log ??= await open(`${this.#file}-wal`, 'r');
        await this.#log.datasync();
        if (this.#leaveMs < performance.now()) {
          this.#leaveMs = performance.now() + this.#when.lookMs;
          this.#logBytes = (await this.#log.stat()).size;
          if (this.#logBytes > this.#when.logBytes) void this.#tidy();
        }
      }
    } catch (error) {
      this.#doubtful = true;
      this.failed = storageFault(error)?.fault === 'full' ? cannotStore('full') : cannotStore('unsure');
      throw this.failed;
    }
    this.#doubtful = false;
    this.failed = null;
    this.#kept = upTo;
  }

  /** Write all of the log to the database once more, from what the system still has in memory. */
  async #rewrite(): Promise<void> {
    await this.#tidying;
    if (!(await this.#tidy())) throw cannotStore('unsure');
  }

  #tidy(): Promise<boolean> {
    this.#tidying ??= tidyLog(this.#file, this.#gate.buffer, this.#when.restMs)
      // What is wrong with the disk is found by the next who waits for it.
      .catch(() => false)
      .then((done) => {
        if (done) this.#logBytes = 0;
        else this.#leaveMs = performance.now() + TIDY_AGAIN_MS;
        return done;
      })
      .finally(() => {
        this.#tidying = null;
        // Also when the thread ended in the middle.
        Atomics.store(this.#gate, 0, 0);
      });
    return this.#tidying;
  }

  /** Whether nobody may write now: whoever writes first to an emptied log waits for the disk, and that is to be the thread that empties it. */
  get shut(): boolean {
    return Atomics.load(this.#gate, 0) !== 0;
  }

  /** Whether the log is being tidied: who wants to write may find it locked for a moment. */
  get tidying(): boolean {
    return this.#tidying !== null;
  }

  /** Resolves when there is room in the log. */
  async room(): Promise<void> {
    if (this.#logBytes > 4 * this.#when.logBytes) await this.#tidying;
  }

  /** Let go of the files, with everything on the disk. Another may be opened under their name. */
  async close(): Promise<void> {
    if (this.#later) clearTimeout(this.#later);
    this.#later = null;
    await this.kept().catch(() => undefined);
    await this.#tidying;
    await this.#log?.close();
    this.#log = null;
    this.#logBytes = 0;
    this.#written = this.#kept;
  }
}
