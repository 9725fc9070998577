import type { Media } from '$lib/core/content/record';

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
  private readonly under = new Map<number, XMLHttpRequest>();

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
    this.under.get(id)?.abort();
    this.set(id, { state: 'cancelled' });
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
    // `fetch` tells nothing of how far a request has gone.
    const request = new XMLHttpRequest();
    this.under.set(id, request);
    this.set(id, { state: 'sending' });
    request.open('POST', `/api/media?${new URLSearchParams({ name: file.name })}`);
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.upload.onprogress = (event) => this.set(id, { part: event.total ? event.loaded / event.total : 0 });
    request.onerror = () =>
      this.set(id, { state: 'refused', said: `“${file.name}”: the server cannot be reached. Try again.` });
    request.onload = () => {
      let answer: (Media & { again?: boolean; title?: string; message?: string }) | undefined;
      try {
        answer = JSON.parse(request.responseText) as typeof answer;
      } catch {
        // Nothing readable came; the status says enough.
      }
      if (request.status < 300 && answer) {
        this.set(id, { state: answer.again ? 'again' : 'kept', part: 1 });
        this.kept(answer);
      } else
        this.set(id, {
          state: 'refused',
          said:
            answer?.title ??
            answer?.message ??
            (request.status === 413
              ? `“${file.name}” is too large.`
              : `“${file.name}”: the server answered ${request.status}.`),
        });
    };
    request.onloadend = () => {
      this.under.delete(id);
      this.files.delete(id);
      this.go();
    };
    request.send(file);
  }
}
