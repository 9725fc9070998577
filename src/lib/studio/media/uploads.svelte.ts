import type { Media } from '$lib/core/schema/record';
import { upload } from '$lib/studio/base/api';

export interface Upload {
  id: number;
  name: string;
  /** From 0 to 1. */
  part: number;
  state: 'waiting' | 'sending' | 'kept' | 'again' | 'refused' | 'cancelled';
  said: string;
}

/** How many go at the same time. */
const AT_ONCE = 3;

/** Files on their way to the library: several at once, each with its progress, each to be cancelled. */
export class Uploads {
  list: Upload[] = $state([]);
  private next = 1;
  private readonly files = new Map<number, File>();
  private readonly under = new Map<number, () => void>();

  constructor(private readonly kept: (media: Media) => void) {}

  add(files: File[]): void {
    for (const file of files) {
      const id = this.next++;
      this.files.set(id, file);
      this.list.push({ id, name: file.name, part: 0, state: 'waiting', said: '' });
    }
    this.go();
  }

  cancel(id: number): void {
    this.set(id, { state: 'cancelled' });
    this.under.get(id)?.();
    this.go();
  }

  clear(): void {
    this.list = this.list.filter((upload) => upload.state === 'waiting' || upload.state === 'sending');
  }

  private set(id: number, change: Partial<Upload>): void {
    const upload = this.list.find((one) => one.id === id);
    if (upload) Object.assign(upload, change);
  }

  private go(): void {
    for (const upload of this.list) {
      if (this.under.size >= AT_ONCE) return;
      if (upload.state === 'waiting') this.send(upload.id);
    }
  }

  private send(id: number): void {
    const file = this.files.get(id);
    if (!file) return;
    this.set(id, { state: 'sending' });
    const { answer, abort } = upload('POST /media', { query: { name: file.name } }, file, (part) =>
      this.set(id, { part }),
    );
    this.under.set(id, abort);
    void answer
      .then((media) => {
        this.set(id, { state: media.again ? 'again' : 'kept', part: 1 });
        this.kept(media);
      })
      .catch((error: unknown) => {
        const upload = this.list.find((one) => one.id === id);
        if (upload?.state !== 'cancelled') this.set(id, { state: 'refused', said: (error as Error).message });
      })
      .finally(() => {
        this.under.delete(id);
        this.files.delete(id);
        this.go();
      });
  }
}
