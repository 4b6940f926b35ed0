// What `wembo write` does with a file: into its sidecar, or with `embed` into itself. The new file is written beside
// the old one and read back before it takes its place.

import { open, readFile, readdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { applyEdit, planList, planSet } from '../src/core/fields/edits';
import { endingOf, isPhotoName, isSidecarName } from '../src/core/formats/containers/formats';
import { planEmbed } from '../src/core/metadata/embed/embed';
import { sourceOfParts } from '../src/core/metadata/embed/parts';
import { type FieldKey, type FieldValues, fieldOf, isFieldKey } from '../src/core/fields/registry';
import { type FieldValue, isList } from '../src/core/fields/shape';
import { fromTyped, valueProblemOf, wordsIn } from '../src/core/fields/values';
import { chooseSidecars } from '../src/core/names/sidecar-names';
import { readPhoto } from '../src/core/metadata/reading/reading';
import { effectiveFields, parseSidecar, planSidecar } from '../src/core/metadata/xmp/sidecar';
import { valueProblemSentence } from '../src/messages/fields';
import { reasonOf } from './inspect';
import { newDigest } from './node-digest';
import { fileSource } from './node-source';

export interface Wish {
  key: FieldKey;
  value: FieldValue | undefined;
  /** To what is there already. */
  add: boolean;
}

/** `KEY=VALUE` words into wishes; a sentence where one is not understood. */
export function parseWishes(set: readonly string[], add: readonly string[]): Wish[] | string {
  const wishes: Wish[] = [];
  for (const [word, adds] of [
    ...set.map((text) => [text, false] as const),
    ...add.map((text) => [text, true] as const),
  ]) {
    const [, key = '', text = ''] = /^([^=]+)=(.*)$/s.exec(word) ?? [];
    if (!isFieldKey(key)) return `There is no field ${key || word}.`;
    const row = fieldOf(key);
    const misfit = valueProblemOf(key, text);
    if (misfit) return `${key} cannot be “${text}”. ${valueProblemSentence(misfit)}`;
    if (adds && !isList(row)) return `${key} holds one value; use --set.`;
    try {
      wishes.push({
        key,
        add: adds,
        value: row.value === 'structure' && text !== '' ? (JSON.parse(text) as FieldValue) : fromTyped(key, text),
      });
    } catch (error) {
      return `${key} is a structure and wants JSON (${reasonOf(error)}).`;
    }
  }
  return wishes.length > 0 ? wishes : 'Nothing is to be set.';
}

function fulfilled(fields: FieldValues, wishes: readonly Wish[]): FieldValues {
  return wishes.reduce((now, { key, value, add }) => {
    const photo = [{ id: '', fields: now }];
    return (add ? planList(photo, key, wordsIn(value), []) : planSet(photo, key, value)).reduce(applyEdit, now);
  }, fields);
}

export async function writeLine(file: string, wishes: readonly Wish[], embed: boolean): Promise<object> {
  try {
    return embed ? await embedInto(file, wishes) : await intoSidecar(file, wishes);
  } catch (error) {
    return { file, failed: true, reason: reasonOf(error) };
  }
}

async function embedInto(file: string, wishes: readonly Wish[]): Promise<object> {
  const source = fileSource(file);
  try {
    const plan = await planEmbed(source, file, fulfilled((await readPhoto(source, file)).fields, wishes), newDigest);
    if (plan.state === 'refused') return { file, failed: true, ...plan };
    if (plan.state === 'nothing-to-do') return { file, state: 'nothing-to-do' };
    const whole = sourceOfParts(source, plan.parts);
    await replace(file, await whole.read(0, whole.size));
    return { file, state: 'written', wrote: file };
  } finally {
    source.close();
  }
}

async function intoSidecar(file: string, wishes: readonly Wish[]): Promise<object> {
  const source = fileSource(file);
  const reading = await readPhoto(source, file);
  source.close();
  if (reading.format === 'unknown') return { file, failed: true, reason: 'it is not a format that has sidecars here' };
  const { existing, target } = await sidecarOf(file);
  const sidecar = existing === null ? null : parseSidecar(existing);
  if (sidecar && sidecar.state !== 'read')
    return { file, failed: true, wrote: null, reason: `${target} cannot be understood and is not written over` };
  const before = effectiveFields(reading.fields, sidecar?.value ?? null);
  const plan = planSidecar({
    existing,
    fields: fulfilled(before, wishes),
    embedded: reading.fields,
    ending: endingOf(file),
  });
  if ('problems' in plan) return { file, failed: true, problems: plan.problems };
  if (existing !== null && Buffer.compare(existing, plan.bytes) === 0) return { file, state: 'nothing-to-do' };
  await replace(target, plan.bytes);
  return { file, state: 'written', wrote: target };
}

/** The sidecar of a file by the rules of `core/names`, for which all names of the folder are needed. */
async function sidecarOf(file: string): Promise<{ existing: Uint8Array<ArrayBuffer> | null; target: string }> {
  const folder = path.dirname(file);
  const names = await readdir(folder);
  const saidEndings = new Map<string, string | null>();
  for (const name of names.filter(
    (candidate) => isSidecarName(candidate) && candidate.toLowerCase().startsWith(path.parse(file).name.toLowerCase()),
  )) {
    const parsed = parseSidecar(await readFile(path.join(folder, name)));
    saidEndings.set(name, parsed.state === 'read' ? parsed.value.forEnding : null);
  }
  const choice = chooseSidecars(
    names.filter(isPhotoName),
    names.filter(isSidecarName),
    (name) => saidEndings.get(name) ?? null,
  ).get(path.basename(file));
  if (!choice) throw new Error('its ending is not that of a photo');
  const target = path.join(folder, choice.target);
  return { existing: choice.existing === null ? null : Uint8Array.from(await readFile(target)), target };
}

async function replace(target: string, bytes: Uint8Array): Promise<void> {
  const part = `${target}.wembo-part`;
  try {
    const handle = await open(part, 'w');
    await handle.writeFile(bytes);
    await handle.sync();
    await handle.close();
    if (Buffer.compare(await readFile(part), bytes) !== 0)
      throw new Error('what was written does not read back as it should');
    await rename(part, target);
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  }
}
