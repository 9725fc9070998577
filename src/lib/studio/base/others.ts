/** Tabs of one browser tell each other what they have changed, so that none goes on showing what is no longer so. */
let channel: BroadcastChannel | undefined;
const open = (): BroadcastChannel => (channel ??= new BroadcastChannel('what was changed'));

/** What other tabs may stand over: the model, records, files, the theme; templates are told by their own saving. */
const SHARED = /^\/api\/v1\/(types|taxonomies|terms|authors|records|media|removals|theme|rules|site|imports)\b/;

/** Tells the other tabs that something at this address of the API has changed. */
export function tellOthers(path: string): void {
  if (typeof BroadcastChannel !== 'undefined' && SHARED.test(path)) open().postMessage(path);
}

/** Milliseconds in which several changes are one. */
const TOGETHER = 250;

/** Does something after another tab has changed anything; gives back how to leave off. */
export function onOthers(act: () => void): () => void {
  if (typeof BroadcastChannel === 'undefined') return () => undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const listen = () => {
    clearTimeout(timer);
    timer = setTimeout(act, TOGETHER);
  };
  open().addEventListener('message', listen);
  return () => {
    clearTimeout(timer);
    open().removeEventListener('message', listen);
  };
}
