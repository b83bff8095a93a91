import { usePathname, useRouter } from 'expo-router';
import { useEffect, useRef } from 'react';
import { recall, remember } from '@/storage/meta';

/** After a phone call or a reload from the home screen the last screen is there again: only a start at "/" is sent on. */
export function RememberRoute() {
  const path = usePathname();
  const router = useRouter();
  const first = useRef(true);
  useEffect(() => {
    if (first.current && path === '/' && window.matchMedia('(display-mode: standalone)').matches)
      void recall('last-route').then((last) => {
        if (last?.startsWith('/job/')) router.replace(last);
      });
    else void remember('last-route', path);
    first.current = false;
  }, [path, router]);
  return null;
}
