/**
 * What the parts of an installation do to a current. The plan uses `planPhysics`; a simulated truth
 * passes its own figures. SI units; resistances at 20 °C (IEC 60228, class 1 and 2; flexible: class 5).
 */
export interface Physics {
  ohmPerM(csaMm2: number, flexible: boolean): number;
  /** Sound termination of one conductor end. */
  terminationOhm(endKey: string): number;
  /** Sound face contact. */
  faceOhm: number;
  /** Insulation between two cores of a section: ohm-metres, to be divided by the length. A plan knows no pair from another. */
  insulationOhmM(sectionId: string, core?: string, other?: string): number;
  /** Insulation between each two terminals of a point. */
  pointInsulationOhm: number;
  linkOhm: number;
  wayOhm: number;
  switchOhm: number;
  /** The least resistance a contact may have, so that no conductance is infinite. */
  contactOhmMin: number;
}

const solidMilliohmPerM: Readonly<Record<string, number>> = {
  '1': 18.1, '1.5': 12.1, '2.5': 7.41, '4': 4.61, '6': 3.08, '10': 1.83, '16': 1.15, '25': 0.727,
};
const flexibleMilliohmPerM: Readonly<Record<string, number>> = { '0.75': 26, '1': 19.5, '1.5': 13.3, '2.5': 7.98 };
const COPPER_OHM_MM2_PER_M = 0.0181;

/** Ω per metre of one copper core; sizes outside the tables by resistivity. */
export function copperOhmPerM(csaMm2: number, flexible: boolean): number {
  const table = flexible ? flexibleMilliohmPerM : solidMilliohmPerM;
  const milliohm = table[String(csaMm2)];
  return milliohm === undefined ? COPPER_OHM_MM2_PER_M / csaMm2 : milliohm / 1000;
}

export const planPhysics: Physics = {
  ohmPerM: copperOhmPerM,
  terminationOhm: () => 0.0035,
  faceOhm: 0.004,
  insulationOhmM: () => 2e11,
  pointInsulationOhm: 1e12,
  linkOhm: 0.01,
  wayOhm: 0.002,
  switchOhm: 0.005,
  contactOhmMin: 1e-4,
};
