// Words the spell checker does not know and the person does: names, places, words of other languages.

export interface LearntWord {
  /** The word itself. */
  id: string;
  updatedAt: number;
  deleted: boolean;
}
