// Words the spell checker does not know and the person does: names, places, words of other languages.

import type { Versioned } from '../fields/version';

export interface LearntWord extends Versioned {
  /** The word itself. */
  id: string;
}
