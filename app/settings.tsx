import { lazy, Suspense } from 'react';

const Screen = lazy(() => import('@/work').then((m) => ({ default: m.SettingsScreen })));

export default function Settings() {
  return <Suspense fallback={null}><Screen /></Suspense>;
}
