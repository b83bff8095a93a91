import { lazy, Suspense } from 'react';

const Screen = lazy(() => import('@/work').then((m) => ({ default: m.NewJobScreen })));

export default function New() {
  return <Suspense fallback={null}><Screen /></Suspense>;
}
