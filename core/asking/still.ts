import type { Asked, JobView } from '../job';

/**
 * What is still to be explained. A complaint that a repair explains is answered: what else may be wrong is then no likelier than an
 * inspection would find it. `fails`: after that repair it still does what was complained of.
 */
export function stillAsked({ asked, mends }: Pick<JobView, 'asked' | 'mends'>, fails: boolean): Asked {
  if (!asked.complaint || fails || !mends.some((m) => m.event.explains === 'yes')) return asked;
  return { ...asked, complaint: 'inspection', answers: {} };
}
