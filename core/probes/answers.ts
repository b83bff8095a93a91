import type { Suspect } from '../faults';
import type { Probe } from './probe';
import type { Lead, Response } from './response';
import type { StateModel } from './stateModel';

/** One state of the work as a probe meets it: its leads there, and what it reads while all is sound. */
interface Scene { readonly model: StateModel; readonly leads: readonly [Lead, Lead]; readonly sound: Response; readonly found: (Response | undefined)[] }

function sceneOf(model: StateModel, probe: Probe): Scene | null {
  const leads = model.leads(probe);
  const sound = model.sound(probe);
  return leads && sound ? { model, leads, sound, found: [] } : null;
}

/** The state with something in it that may be there or not, how likely that has a say, and its own ohms at the least. */
export interface Maybe { readonly share: number; readonly own: number; readonly model: StateModel }

/**
 * What one probe in one state reads under each suspect, as formulas; each is worked out when first asked for. Where something may be
 * there that nobody vouches for, every suspect has a further formula for each such thing, with as much of it as there may be.
 */
export class Answers {
  /** Things that may be there: how likely each has a say, and the formulas with it. */
  readonly others: readonly { readonly share: number; readonly own: number; readonly sound: Response; to(suspect: number): Response }[];

  private constructor(
    private readonly suspects: readonly Suspect[],
    readonly probe: Probe,
    private readonly plain: Scene,
    maybes: readonly (Scene & { readonly share: number; readonly own: number })[],
  ) {
    this.others = maybes.map((m) => ({ share: m.share, own: m.own, sound: m.sound, to: (suspect) => this.respond(m, suspect) }));
  }

  /** Null when a lead touches nothing. */
  static of(model: StateModel, maybes: readonly Maybe[], suspects: readonly Suspect[], probe: Probe): Answers | null {
    const plain = sceneOf(model, probe);
    return plain && new Answers(suspects, probe, plain, maybes.flatMap((m) => {
      const scene = sceneOf(m.model, probe);
      return scene ? [{ ...scene, share: m.share, own: m.own }] : [];
    }));
  }

  get sound(): Response {
    return this.plain.sound;
  }

  /** The formula for a suspect, by its number. */
  to(suspect: number): Response {
    return this.respond(this.plain, suspect);
  }

  private respond(scene: Scene, suspect: number): Response {
    return (scene.found[suspect] ??= scene.model.response(this.suspects[suspect] as Suspect, this.probe, scene.leads, scene.sound));
  }
}
