import { lazy, Suspense } from 'react';

const Layout = lazy(() => import('@/work').then((m) => ({ default: m.JobLayout })));

export default function Job() {
  return <Suspense fallback={null}><Layout /></Suspense>;
}
