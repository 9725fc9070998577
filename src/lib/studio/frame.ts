/**
 * Puts a page with a `main` into a frame, and says when it stands there. The load of the empty page that every frame
 * begins with may come before or after, and is not taken for it.
 */
export function fillFrame(frame: HTMLIFrameElement, html: string, ready: () => void): void {
  const onLoad = () => {
    if (!frame.contentDocument?.querySelector('main')) return;
    frame.removeEventListener('load', onLoad);
    ready();
  };
  frame.addEventListener('load', onLoad);
  frame.srcdoc = html;
}
