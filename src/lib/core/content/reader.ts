import type { ContentRecord, Media } from './record';
import type { ModelIndex } from '../model/model';

/** How written values are looked up: what a value's text may need beside the value itself. */
export interface Reader {
  model: ModelIndex;
  record(id: number): ContentRecord | undefined;
  media(id: number): Media | undefined;
}
