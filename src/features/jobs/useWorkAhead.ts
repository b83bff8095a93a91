import { useEffect } from 'react';

/** A moment for the person to begin: what is fetched ahead may not stand in the way of what they do. */
const AFTER_MS = 1500;

/** A moment after the first page stands, fetches what lies behind it, behind all else that is asked for; it is not run before it is needed. */
export function useWorkAhead(stands: boolean): void {
  useEffect(() => {
    const work = document.querySelector<HTMLMetaElement>('meta[name="gutter-work"]');
    if (!stands || !work) return undefined;
    const timer = setTimeout(() => {
      const link = document.createElement('link');
      link.rel = 'prefetch';
      link.as = 'script';
      link.href = work.content;
      document.head.appendChild(link);
    }, AFTER_MS);
    return () => clearTimeout(timer);
  }, [stands]);
}
