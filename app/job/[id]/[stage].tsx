import { lazy, Suspense } from 'react';

const Screen = lazy(() => import('@/work').then((m) => ({ default: m.StageRoute })));

export default function Stage() {
  return <Suspense fallback={null}><Screen /></Suspense>;
}
