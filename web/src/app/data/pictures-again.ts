import { waitBefore } from './again';

/**
 * Asks again for every picture of ours on the page that could not be had, with growing waits, for as long as it is
 * there: one for all `<img>`, whoever shows them.
 */
export function askForPicturesAgain(document: Document): void {
  const failures = new WeakMap<HTMLImageElement, { readonly src: string; readonly times: number }>();
  // Errors of pictures do not bubble; on their way down they are heard.
  document.addEventListener(
    'error',
    ({ target }) => {
      if (!(target instanceof HTMLImageElement)) return;
      const src = target.getAttribute('src') ?? '';
      if (!src.startsWith('/api/')) return;
      const before = failures.get(target);
      const times = before?.src === src ? before.times : 0;
      failures.set(target, { src, times: times + 1 });
      setTimeout(() => {
        if (target.isConnected && target.getAttribute('src') === src) target.setAttribute('src', src);
      }, waitBefore(times));
    },
    true,
  );
}
