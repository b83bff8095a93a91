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

/** What may be there or not: a load that is in or stayed in, or metal that leads to earth; how likely it has a say, and its own ohms at the least. */
export interface Thing { readonly is: 'load' | 'metal'; readonly share: number; readonly own: number }

/** The state with such a thing in it. */
export interface Maybe extends Thing { readonly model: StateModel }

/**
 * What one probe in one state reads under each suspect, as formulas; each is worked out when first asked for. Where something may be
 * there that nobody vouches for, every suspect has a further formula for each such thing, with as much of it as there may be.
 */
export class Answers {
  /** Things that may be there, and the formulas with each. */
  readonly others: readonly (Thing & { readonly sound: Response; to(suspect: number): Response })[];

  private constructor(
    private readonly suspects: readonly Suspect[],
    readonly probe: Probe,
    private readonly plain: Scene,
    maybes: readonly (Scene & Thing)[],
  ) {
    this.others = maybes.map((m) => ({ is: m.is, share: m.share, own: m.own, sound: m.sound, to: (suspect) => this.respond(m, suspect) }));
  }

  /** Null when a lead touches nothing. */
  static of(model: StateModel, maybes: readonly Maybe[], suspects: readonly Suspect[], probe: Probe): Answers | null {
    const plain = sceneOf(model, probe);
    return plain && new Answers(suspects, probe, plain, maybes.flatMap((m) => {
      const scene = sceneOf(m.model, probe);
      return scene ? [{ ...scene, is: m.is, share: m.share, own: m.own }] : [];
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
