/** What can be expected to go wrong, as a value: match on `code`, never on text (words live in core/wording). */
export interface Issue {
  readonly code: string;
  /** Where in the document, e.g. ["circuit", "s3", "lengthM"]. */
  readonly path: readonly (string | number)[];
  /** The offending figures and names, for the sentence shown to people. */
  readonly figures?: Readonly<Record<string, string | number>>;
}

export type Result<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly issues: readonly Issue[] };

export const ok = <T>(value: T): Result<T> => ({ ok: true, value });
export const fail = (...issues: Issue[]): { ok: false; issues: Issue[] } => ({ ok: false, issues });
export const issue = (code: string, path: Issue['path'] = [], figures?: Issue['figures']): Issue =>
  figures ? { code, path, figures } : { code, path };

/** Marks the branch of a switch that no value can reach. */
export function assertNever(value: never): never {
  throw new Error(`unexpected value: ${JSON.stringify(value)}`);
}
