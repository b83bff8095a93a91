export const stages = ['ask', 'map', 'live', 'dead', 'trace', 'right', 'over'] as const;
export type Stage = (typeof stages)[number];

export const stageNames: Readonly<Record<Stage, string>> = { ask: 'Ask', map: 'Map', live: 'Live', dead: 'Make dead', trace: 'Trace', right: 'Put right', over: 'Hand over' };
export const isStage = (s: string): s is Stage => (stages as readonly string[]).includes(s);
