import { useEffect } from 'react';

/** What the browser's tab, its history and a screen reader call the page. */
export function usePageTitle(title: string): void {
  useEffect(() => {
    document.title = title === 'Gutter' ? title : `${title} · Gutter`;
  }, [title]);
}
