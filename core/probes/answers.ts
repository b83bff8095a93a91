import type { Suspect } from '../faults';
import type { Probe } from './probe';
import type { Lead, Response } from './response';
import type { StateModel } from './stateModel';

/** What one probe in one state reads under each suspect, as formulas; each is worked out when first asked for. */
export class Answers {
  private readonly found: (Response | undefined)[];

  constructor(
    private readonly model: StateModel,
    private readonly suspects: readonly Suspect[],
    private readonly probe: Probe,
    private readonly leads: readonly [Lead, Lead],
    readonly sound: Response,
  ) {
    this.found = new Array<Response | undefined>(suspects.length);
  }

  /** The formula for a suspect, by its number. */
  to(suspect: number): Response {
    return (this.found[suspect] ??= this.model.response(this.suspects[suspect] as Suspect, this.probe, this.leads, this.sound));
  }
}
