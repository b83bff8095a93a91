import type { Suspect } from '../faults';
import { loadsOf, roleOfPlace, type Installation } from '../installation';
import type { Physics } from '../network';
import type { Assumed } from '../network/skeleton';
import { Answers, probeKey, StateModel, tiedState, type Maybe, type Probe } from '../probes';
import { elementKey, isElementKey, stateSignature, type WorkState } from '../workstate';
import { anyLoadIn, LEAST_LOAD_OHM, LEAST_METAL_OHM, leftIn, LOADS_MAY_BE_IN, METAL_MAY_BE, mostLoads, mostMetal, PUT_IN, vouchedLoads } from './nuisance';

/** What is taken as known, given a state in which it may act or not. */
export type AssumedIn = (state: WorkState) => readonly Assumed[];

/** What each probe reads in each state under every suspect. It asks nothing of what is believed, so that engines which differ in that alone share one. */
export class Formulas {
  private readonly models = new Map<string, StateModel>();
  private readonly loadedModels = new Map<string, StateModel>();
  private readonly metalModels = new Map<string, StateModel>();
  /** The map with the loads that are vouched for; with all that may be in; and with metal beside every CPC too. */
  private readonly vouched: Installation;
  private readonly loaded: Installation;
  private readonly bridged: Installation;
  private readonly loads: readonly string[];
  private readonly answers = new Map<string, Answers | null>();

  constructor(
    private readonly installation: Installation,
    private readonly suspects: readonly Suspect[],
    private readonly physics: Physics,
    private readonly metalMayBe: boolean,
    private readonly assumed: AssumedIn | null,
  ) {
    this.vouched = vouchedLoads(installation);
    this.loaded = mostLoads(installation);
    this.bridged = mostMetal(installation);
    this.loads = installation.points.flatMap((p) => loadsOf(p).map((l) => elementKey(p.id, l.id)));
  }

  model(state: WorkState): StateModel {
    return this.modelOf(this.models, this.vouched, state);
  }

  private modelOf(known: Map<string, StateModel>, map: Installation, state: WorkState): StateModel {
    const key = stateSignature(state);
    let model = known.get(key);
    if (!model) known.set(key, (model = new StateModel(map, state, this.physics, this.assumed?.(state) ?? [])));
    return model;
  }

  /**
   * Formulas of all suspects for a probe that could be made in a state, not kept; null when a lead touches nothing. `forForecast` leaves
   * out what only a reading that was taken can show.
   */
  in(state: WorkState, probe: Probe, forForecast = true): Answers | null {
    const tied = tiedState(state, probe);
    const maybes: Maybe[] = [];
    const putIn = (tied.on ?? []).filter(isElementKey);
    if (putIn.length) maybes.push({ is: 'load', share: PUT_IN, own: LEAST_LOAD_OHM, model: this.modelOf(this.loadedModels, this.loaded, { ...tied, loadsOut: this.loads.filter((k) => !putIn.includes(k)) }) });
    if (anyLoadIn(this.installation, tied)) maybes.push({ is: 'load', share: LOADS_MAY_BE_IN, own: LEAST_LOAD_OHM, model: this.modelOf(this.loadedModels, this.loaded, tied) });
    if (!forForecast && tied.loadsOut.length) maybes.push({ is: 'load', share: leftIn(this.installation, tied), own: LEAST_LOAD_OHM, model: this.modelOf(this.loadedModels, this.loaded, { ...tied, loadsOut: [] }) });
    if (!forForecast && this.metalMayBe && [...probe.from, ...probe.to].some((k) => roleOfPlace(this.installation, k) === 'E')) maybes.push({ is: 'metal', share: METAL_MAY_BE, own: LEAST_METAL_OHM, model: this.modelOf(this.metalModels, this.bridged, tied) });
    return Answers.of(this.model(tied), maybes, this.suspects, probe);
  }

  /** Those for a probe that was made, kept; null when a lead touches nothing. */
  of(state: WorkState, probe: Probe): Answers | null {
    const key = `${stateSignature(state)} ${probeKey(probe)}`;
    let found = this.answers.get(key);
    if (found === undefined) this.answers.set(key, (found = this.in(state, probe, false)));
    return found;
  }
}
