import type { PointKind } from '@core/installation';

/** What a point can be said to be, and the name that each kind has. */
export const kinds: readonly { value: PointKind; label: string }[] = [
  { value: 'outlet', label: 'Outlet' }, { value: 'lamp', label: 'Light' }, { value: 'switch', label: 'Switch' }, { value: 'joint', label: 'Joint' }, { value: 'fixed', label: 'Appliance' },
];
export const kindNames: Readonly<Record<PointKind, string>> = { board: 'Board', outlet: 'Outlet', lamp: 'Light', switch: 'Switch', joint: 'Joint', fixed: 'Appliance', undrawn: 'Circuit, not drawn', subboard: 'Sub-board' };
