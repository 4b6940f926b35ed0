// The person's rule of safekeeping and what is said of each drive: settings of the archive, kept on every drive, changed
// by acts that undo takes back.

import { z } from 'zod';
import type { SavedChange, SettingValue } from '@/core/catalog/change';
import { DRIVE_NOTE_LENGTH, DRIVE_STANDINGS, type DriveFacts, FACT_LENGTH, MEDIA } from '@/core/fixity/drive-facts';
import { FACTS_PREFIX, type Keeping, RULE_SETTING, driveFactsOf } from '@/core/fixity/keeping';
import { DEFAULT_RULE, type SafeRule } from '@/core/fixity/safe';
import type { CatalogDatabase } from './database';

const safeRule: z.ZodType<SafeRule> = z.object({
  copies: z.number().int().min(1).max(9),
  elsewhere: z.number().int().min(0).max(9),
  verifiedWithinDays: z.number().int().min(1).max(36_500),
});

const fact = z.string().max(FACT_LENGTH);
/** What a later version says besides is left out, and what an earlier one did not say is as if nothing was said. */
const driveFacts: z.ZodType<DriveFacts> = z.object({
  medium: z.enum(MEDIA).nullable().catch(null),
  place: fact.default(''),
  elsewhere: z.boolean().default(false),
  serial: fact.default(''),
  boughtOn: fact.default(''),
  note: z.string().max(DRIVE_NOTE_LENGTH).default(''),
  standing: z.enum(DRIVE_STANDINGS),
  standingSince: fact.default(''),
  replacedBy: z.string().max(64).nullable().default(null),
});

export async function readRule(db: CatalogDatabase): Promise<SafeRule> {
  const setting = await db.settings.get(RULE_SETTING);
  return (setting?.deleted ? null : safeRule.safeParse(setting?.value).data) ?? DEFAULT_RULE;
}

export async function readKeeping(db: CatalogDatabase): Promise<Keeping> {
  const settings = await db.settings.where('id').startsWith(FACTS_PREFIX).toArray();
  const facts = settings.flatMap(({ id, value, deleted }) => {
    const read = deleted ? null : driveFacts.safeParse(value).data;
    return read ? [[id.slice(FACTS_PREFIX.length), read] as const] : [];
  });
  return { rule: await readRule(db), facts: new Map(facts) };
}

/** Says something else of a drive. */
export async function planFacts(
  db: CatalogDatabase,
  driveId: string,
  patch: Partial<DriveFacts>,
  at: number,
): Promise<SavedChange> {
  const facts = driveFactsOf(await readKeeping(db), driveId);
  return settingChange(db, `${FACTS_PREFIX}${driveId}`, { ...facts, ...patch }, at);
}

export const planRule = (db: CatalogDatabase, rule: SafeRule, at: number): Promise<SavedChange> =>
  settingChange(db, RULE_SETTING, { ...rule }, at);

async function settingChange(db: CatalogDatabase, id: string, value: SettingValue, at: number): Promise<SavedChange> {
  const before = (await db.settings.get(id)) ?? null;
  return { kind: 'kept', savedKind: 'settings', before, after: { id, value, updatedAt: at, deleted: false } };
}
