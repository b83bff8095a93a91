import type { Issue } from '@core/issue';

/** An expected problem that stopped an action; screens show its issue in words. */
export class Refused extends Error {
  constructor(readonly issue: Issue) {
    super(issue.code);
  }
}
