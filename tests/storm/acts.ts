// The acts of the storm as plain data, so that a run can be told, repeated and shrunk; and how each is done.

import fc from 'fast-check';
import type { FieldValues } from '@/core/fields/registry';
import { isPhotoName } from '@/core/formats/containers/formats';
import { parseSidecar, planSidecar } from '@/core/metadata/xmp/sidecar';
import { DriveError, isLeftover } from '@/storage/drives/drive';
import { type Disk, sha256Of } from './disks';
import type { Acted, Model } from './model';
import { bent } from './pictures';
import { WORD_FIELDS, isOurs, sidecarsOn, wordsIn } from './words';
import { CARD, PLACES, World } from './world';

const PERSON = [
  'connect',
  'scan',
  'copy',
  'check',
  'outbox',
  'take-in',
  'empty',
  'rename',
  'move-into',
  'move-folder',
  'move-over',
  'move-over-and-outbox',
  'rejoin',
  'check-part',
  'replace',
  'drill',
  'back-up',
  'stand',
  'forget',
  'doubles',
  'free',
  'bag',
  'set-aside',
  'bring-back',
  'erase',
  'undo',
  'redo',
  'describe',
  'embed',
  'settle',
  'decide',
  'keep',
  'mend',
  'mark-again',
  'one-disk',
  'describe-and-outbox',
  'begin-typing',
  'leave-field',
  'choose',
  'look-closely',
  'keep-aside',
  'check-and-outbox',
  'copy-and-outbox',
  'scan-and-outbox',
  'deliver',
  'deliver-and-outbox',
] as const;
const WORLD = [
  'add',
  'add-edged',
  'add-to-card',
  'same-name',
  'rot',
  'rot-and-touch',
  'describe-elsewhere',
  'move-elsewhere',
  'delete-elsewhere',
  'copy-elsewhere',
  'mend-elsewhere',
  'plug',
  'clone',
  'lose-archive',
  'fill',
  'clock-back',
  'words-elsewhere',
  'sidecar-put-back',
  'shelf-cut',
  'shelf-of-later-version',
] as const;
const BROWSER = ['restart', 'rebuild', 'restore', 'other-catalog'] as const;

export interface Act {
  kind: (typeof PERSON)[number] | (typeof WORLD)[number] | (typeof BROWSER)[number];
  a: number;
  b: number;
  /** The step at which the browser is killed; `null` for never. */
  stop: number | null;
  /** The step at which a cable is pulled, or a disk swapped; `null` for never. */
  swap: number | null;
}

const small = fc.nat({ max: 11 });
const of = (
  kinds: readonly Act['kind'][],
  stop: fc.Arbitrary<number | null>,
  swap: fc.Arbitrary<number | null>,
): fc.Arbitrary<Act> => fc.record({ kind: fc.constantFrom(...kinds), a: small, b: small, stop, swap });
const never = fc.constant(null);
const sometimes = (percent: number) =>
  fc
    .option(fc.integer({ min: 1, max: 250 }), { freq: Math.round((100 - percent) / percent), nil: null })
    .map((step) => step);

/**
 * A world begins with photos on its disks, drives that are connected and were looked through; then anything may happen.
 */
const begin: Act[] = [
  ...[0, 1, 2].map((a): Act => ({ kind: 'add', a, b: a, stop: null, swap: null })),
  ...[0, 1].map((a): Act => ({ kind: 'add-edged', a, b: a, stop: null, swap: null })),
  { kind: 'add-to-card', a: 0, b: 0, stop: null, swap: null },
  ...[0, 1, 2].flatMap((a): Act[] => [
    { kind: 'connect', a, b: 0, stop: null, swap: null },
    { kind: 'scan', a, b: 0, stop: null, swap: null },
  ]),
];

export const acts: fc.Arbitrary<Act[]> = fc
  .array(
    fc.oneof(
      { arbitrary: of(PERSON, sometimes(20), sometimes(12)), weight: 12 },
      { arbitrary: of(WORLD, never, never), weight: 7 },
      { arbitrary: of(BROWSER, never, never), weight: 1 },
    ),
    { minLength: 4, maxLength: 36, size: 'max' },
  )
  .map((list) => [...begin, ...list]);

export interface Tally {
  runs: number;
  acts: number;
  stops: number;
  restarts: number;
  swaps: number;
}

/** An act that was stopped or failed: what a person said by it may be there all the same. */
const unfinished = ({ kind }: Act): Acted => ({
  kind: kind === 'describe-and-outbox' ? 'describe' : kind,
  scanned: null,
  emptied: null,
});

/** Does the acts in a new world, and holds it against the model after each. Rejects with the row that does not hold. */
export async function storm(list: readonly Act[], model: new (world: World) => Model, tally: Tally): Promise<void> {
  const world = new World();
  const held = new model(world);
  await world.start();
  await held.begin();
  tally.runs += 1;
  try {
    for (const [index, act] of list.entries()) {
      try {
        await withinReason(one(world, held, act, tally));
      } catch (error) {
        throw new Error(
          `act ${index} (${JSON.stringify(act)}): ${error instanceof Error ? error.message : String(error)}`,
          { cause: error },
        );
      }
      tally.acts += 1;
    }
    await calm(world, held, tally);
    await rebuildDrill(world, held, tally, list.length);
  } finally {
    await world.end();
  }
}

/** No act of so small a world takes long: one that does waits for something that never comes. */
const ACT_LIMIT_MS = 600_000;

async function withinReason<T>(act: Promise<T>): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const limit = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error('F7: it never comes to an end')), ACT_LIMIT_MS);
  });
  return Promise.race([act, limit]).finally(() => clearTimeout(timer));
}

async function one(world: World, model: Model, act: Act, tally: Tally): Promise<void> {
  if ((WORLD as readonly string[]).includes(act.kind)) {
    worldAct(world, model, act);
    await model.note();
    return;
  }
  if ((BROWSER as readonly string[]).includes(act.kind)) {
    if (act.kind !== 'restart') model.seenAnew();
    if (act.kind === 'rebuild') await world.rebuild();
    else if (act.kind === 'restore') await world.restore(act.a);
    else if (act.kind === 'other-catalog') await world.switchCatalog();
    else await world.restart();
    tally.restarts += 1;
    return model.note(act.kind !== 'restart');
  }
  // between the two records of one disk nobody can tell that its copies count twice
  world.process.arm(act.kind === 'one-disk' ? null : act.stop);
  // a disk without a mark that is swapped for another without one while it gets its first cannot be told from it
  const undoSwap = swapDuring(
    world,
    ['connect', 'mark-again', 'one-disk'].includes(act.kind) ? { ...act, swap: null } : act,
    tally,
  );
  const work = personAct(world, model, act).catch((error: unknown): Acted => {
    if (!world.process.isAlive || isFault(error)) return unfinished(act);
    throw error;
  });
  const acted = await Promise.race([work, world.process.end.then(() => unfinished(act))]);
  world.process.arm(null);
  world.places.held.clear();
  undoSwap();
  if (!world.process.isAlive) {
    tally.stops += 1;
    tally.restarts += 1;
    await world.restart();
  }
  await model.hold(acted);
}

/**
 * What may go wrong without anybody being at problem: a drive that is full, gone or another one; a card that is not what
 * was agreed to.
 */
const isFault = (error: unknown): boolean =>
  error instanceof DriveError ||
  (error instanceof Error && (error.message === 'not-agreed' || error.name === 'ArchiveFileError'));

function swapDuring(world: World, { swap, b }: Act, tally: Tally): () => void {
  const place = PLACES[b % PLACES.length] ?? 'p0';
  const before = world.places.at(place)?.disk ?? null;
  let [steps, swapped] = [0, false];
  world.places.onStep = () => {
    steps += 1;
    if (swap === null || swapped || steps < swap || (world.places.held.get(place) ?? 0) > 0) return;
    swapped = true;
    tally.swaps += 1;
    const others = [
      null,
      ...world.strangers,
      ...world.disks.filter((disk) => disk !== before && !world.places.all.some(([, plugged]) => plugged === disk)),
    ];
    world.places.plug(place, others[b % others.length] ?? null);
  };
  return () => {
    world.places.onStep = () => {};
    world.places.plug(place, before);
  };
}

async function personAct(world: World, model: Model, act: Act): Promise<Acted> {
  const { kind, a, b } = act;
  const done = (scanned: string | null = null): Acted => ({ kind, scanned, emptied: null });
  await world.checkConnections();
  switch (kind) {
    case 'connect': {
      const place = a === 9 ? 'p0/2019' : (PLACES[a % PLACES.length] ?? 'p0');
      await world.connect(place, b % 2 === 1);
      return done();
    }
    case 'scan':
      return done(await world.scan(a));
    case 'copy':
      return world.copy(a, b).then(() => done());
    case 'check':
      return world.check(a).then(() => done());
    case 'outbox':
      return world.outbox().then(() => done());
    case 'take-in':
      return world.takeIn(a, b).then(() => done());
    case 'empty': {
      const place = a === 7 ? 'p0/2019' : a === 8 ? 'p1' : CARD;
      const at = world.places.at(place);
      if (!at) return done();
      const emptied = { copies: 1 + (b % 2), disk: at.disk, below: at.below };
      // what was removed before it failed counts, too
      await world.empty(place, emptied.copies, b % 4 === 3).catch((error: unknown) => {
        if (!isFault(error)) throw error;
      });
      return { kind, scanned: null, emptied };
    }
    case 'free': {
      const copies = 1 + (b % 2);
      const at = await world.placeOf(a);
      await world.free(a, copies, b % 4 === 3).catch((error: unknown) => {
        if (!isFault(error)) throw error;
      });
      return at ? { kind, scanned: null, emptied: { copies, disk: at.disk, below: at.below } } : done();
    }
    case 'bag':
      return world.bag(a, b).then(() => done());
    case 'rename':
      return world.rename(a).then(() => done());
    case 'move-into':
      return world.moveInto(a, b).then(() => done());
    case 'move-folder':
      return world.moveFolder(a, b).then(() => done());
    case 'move-over':
      return world.moveOver(a, b).then(() => done());
    case 'move-over-and-outbox':
      return Promise.all([world.moveOver(a, b), world.outbox()]).then(() => done());
    case 'rejoin':
      return world.rejoin(a).then(() => done());
    case 'check-part':
      return world.checkPart(a).then(() => done());
    case 'replace':
      return world.replace(a, b).then(() => done());
    case 'drill':
      return world.drill(a, b).then(() => done());
    case 'back-up':
      return world.backUp(a).then(() => done());
    case 'stand':
      return world.stand(a).then(() => done());
    case 'one-disk':
      return world.oneDisk(a, b % 2 === 1).then(() => done());
    case 'forget':
      return world.forget(a).then(() => done());
    case 'doubles':
      return world.settleDoubles(a).then(() => done());
    case 'set-aside':
      return world.setAside(a).then(() => done());
    case 'bring-back':
      return world.bringBack(a).then(() => done());
    case 'erase': {
      for (const { sha256 } of await world.erase(a)) model.erase(world.contents.get(sha256 ?? '')?.picture ?? '');
      return done();
    }
    case 'undo':
      return world.undo().then(() => done());
    case 'redo':
      return world.redo().then(() => done());
    case 'describe':
      return describe(world, model, a, b).then(() => done());
    case 'describe-and-outbox':
      return Promise.all([describe(world, model, a, b), world.outbox()]).then(() => ({ ...done(), kind: 'describe' }));
    case 'decide':
      return world.decide(a).then(() => done());
    case 'keep':
      return world.keep(a, () => model.words.newName()).then(() => done());
    case 'begin-typing':
      return world.beginTyping(a, WORD_FIELDS[b % WORD_FIELDS.length] ?? 'headline').then(() => done());
    case 'leave-field':
      return world.leaveField((picture) => model.words.newWord(picture)).then(() => done());
    case 'choose':
      return world.choose(a, model.words.newChoice()).then(() => done());
    case 'look-closely':
      return world.lookClosely(a).then(() => done());
    case 'keep-aside':
      return world.keepAside().then(() => done());
    case 'mend':
      return world.mend(a).then(() => done());
    case 'mark-again':
      return world.markAgain(a).then(() => done());
    case 'embed':
      return world.embed(a).then(() => done());
    case 'settle': {
      const file = await world.settle(a);
      if (file) model.settle(file);
      return done();
    }
    case 'deliver':
      return world.deliver(a, b).then(() => done());
    case 'deliver-and-outbox':
      return Promise.all([world.deliver(a, b), world.outbox()]).then(() => done());
    case 'check-and-outbox':
      return Promise.all([world.check(a), world.outbox()]).then(() => done());
    case 'copy-and-outbox':
      return Promise.all([world.copy(a, b), world.outbox()]).then(() => done());
    case 'scan-and-outbox':
      return Promise.all([world.scan(a), world.outbox()]).then(() => done());
    default:
      return done();
  }
}

/** One field in three is cleared. */
const describe = (world: World, model: Model, a: number, b: number): Promise<void> =>
  world.describe(a, WORD_FIELDS[b % WORD_FIELDS.length] ?? 'headline', (picture) =>
    b % 4 === 3 ? undefined : model.words.newWord(picture),
  );

const photosOn = (disk: Disk): string[] =>
  [...disk.drive.files.keys()]
    .filter((path) => isPhotoName(path) && !isLeftover(path) && !path.includes('_wembo/'))
    .sort();

function worldAct(world: World, model: Model, { kind, a, b }: Act): void {
  const disk = world.disks[a % world.disks.length] as Disk;
  const paths = photosOn(disk);
  const path = paths[b % Math.max(1, paths.length)];
  const file = path === undefined ? undefined : disk.drive.files.get(path);
  const content = file && world.contents.get(sha256Of(file.bytes));
  const names = ['2019/a', '2019/ð-é', 'b', 'B', '2019/sub/A'];
  switch (kind) {
    case 'add':
      for (const number of [0, 1, 2]) {
        const to = `${names[(b + number) % names.length]}${number}.jpg`;
        if (!isThere(disk, to)) disk.drive.put(to, world.newPicture(false));
      }
      return;
    case 'add-edged': {
      const to = `scans/scan000${b % 5}.jpg`;
      if (!isThere(disk, to)) disk.drive.put(to, world.newPicture(true));
      return;
    }
    case 'same-name': {
      // the same name in another case, where the disk tells them apart; of names that differ by the case of the ending
      // alone nobody can say whose NAME.xmp is
      const upper = path?.replace(/^(.*)(\.[^.]*)$/, (_, base: string, ending: string) => base.toUpperCase() + ending);
      if (upper && !isThere(disk, upper)) disk.drive.put(upper, world.newPicture(false));
      return;
    }
    case 'add-to-card':
      for (const number of [0, 1])
        world.card.drive.put(`DCIM/100/N_${b}${number}${a}.JPG`, world.newPicture(a % 3 === 0));
      world.card.drive.put(`DCIM/100/N_${b}0${a}.WAV`, `spoken ${a} ${b}`);
      return;
    case 'rot':
    case 'rot-and-touch': {
      if (!file || !path || !content || content.isBent) return;
      const damaged = bent(file.bytes);
      // the same bit turned twice is no damage
      if (world.contents.has(sha256Of(damaged))) return;
      const isDamage = model.isMeasured(disk, path);
      if (isDamage) model.bent.add(sha256Of(damaged));
      world.remember(damaged, {
        picture: isDamage ? content.picture : `${content.picture}, as first seen at ${disk.name}/${path}`,
        isBent: isDamage,
      });
      disk.drive.files.set(path, { bytes: damaged, modifiedMs: file.modifiedMs });
      if (kind === 'rot-and-touch') disk.drive.put(path, damaged);
      return;
    }
    case 'describe-elsewhere': {
      const number = Number(/^(?:plain|edged) (\d+)$/.exec(content?.picture ?? '')?.[1]);
      if (!path || !content || content.isBent || !(number > 0)) return;
      const word = model.words.newWord(content.picture);
      model.words.replacedInImage(disk.drive.files.get(path)?.bytes ?? new Uint8Array());
      disk.drive.put(path, world.newPicture(content.picture.startsWith('edged'), word, number));
      model.words.saidElsewhere(word, null, disk);
      return;
    }
    case 'move-elsewhere': {
      const to = `moved/${b}-${paths.length}.jpg`;
      if (!path || !file || isThere(disk, to)) return;
      disk.drive.files.delete(path);
      disk.drive.files.set(to, file);
      // its sidecar goes with it, or is forgotten
      const beside = sidecarBeside(disk, path);
      const sidecar = beside && disk.drive.files.get(beside);
      if (beside) disk.drive.files.delete(beside);
      if (sidecar && a % 2 === 0) disk.drive.files.set(to.replace(/jpg$/, 'xmp'), sidecar);
      model.left.add(`${disk.name}/${path}`);
      // damage that nobody had met, at a path nothing was recorded of, is what is first seen there
      if (content?.isBent) {
        model.bent.delete(sha256Of(file.bytes));
        world.remember(file.bytes, {
          picture: `${content.picture}, as first seen at ${disk.name}/${to}`,
          isBent: false,
        });
      }
      return;
    }
    case 'delete-elsewhere':
      if (path) {
        disk.drive.files.delete(sidecarBeside(disk, path) ?? '');
        disk.drive.files.delete(path);
        // copied by hand first, and nothing was recorded of the copy yet: then it was moved
        if (
          paths.some(
            (other) =>
              other !== path &&
              !model.isMeasured(disk, other) &&
              file &&
              sha256Of(disk.drive.files.get(other)?.bytes ?? new Uint8Array()) === sha256Of(file.bytes),
          )
        )
          model.left.add(`${disk.name}/${path}`);
      }
      return;
    case 'copy-elsewhere': {
      const other = world.disks[b % world.disks.length] as Disk;
      const to = `by-hand/${a}${b}.jpg`;
      if (file && content && !content.isBent && !isThere(other, to)) other.drive.put(to, file.bytes);
      return;
    }
    case 'mend-elsewhere': {
      const right =
        path && content?.isBent
          ? [...world.disks]
              .flatMap((one) => [...one.drive.files.values()])
              .find(
                ({ bytes }) =>
                  world.contents.get(sha256Of(bytes))?.picture === content.picture &&
                  !world.contents.get(sha256Of(bytes))?.isBent,
              )
          : undefined;
      if (path && right) disk.drive.put(path, right.bytes);
      return;
    }
    case 'plug': {
      const place = PLACES[b % PLACES.length] ?? 'p0';
      const all = [null, ...world.disks, ...world.strangers];
      const next = all[a % all.length] ?? null;
      // a disk is in one place at a time
      for (const [at, plugged] of world.places.all) if (plugged === next && next) world.places.plug(at, null);
      world.places.plug(place, next);
      return;
    }
    case 'clone': {
      // one disk becomes what another is, byte for byte: what was on it is lost by the person's own hand
      const from = world.disks[b % world.disks.length] as Disk;
      if (from === disk || a % 3 !== 0 || [...disk.drive.files.keys()].some((one) => isPhotoName(one))) return;
      disk.drive.files.clear();
      for (const [one, { bytes, modifiedMs }] of from.drive.files) disk.drive.files.set(one, { bytes, modifiedMs });
      return;
    }
    case 'lose-archive':
      for (const one of [...disk.drive.files.keys()])
        if (
          one.startsWith('_wembo/') &&
          !one.startsWith('_wembo/set-aside') &&
          (b % 2 === 0 || one !== '_wembo/drive.json')
        )
          disk.drive.files.delete(one);
      model.archiveLost(disk);
      return;
    case 'fill':
      disk.drive.capacityBytes =
        disk.drive.capacityBytes === Infinity
          ? [...disk.drive.files.values()].reduce((sum, { bytes }) => sum + bytes.length, 0) + 3000
          : Infinity;
      return;
    case 'words-elsewhere': {
      if (path && content && !content.isBent) writeElsewhere(model, disk, path, content.picture, a, b);
      return;
    }
    case 'sidecar-put-back': {
      const all = sidecarsOn(disk);
      const at = all[b % Math.max(1, all.length)];
      const now = at === undefined ? undefined : disk.drive.files.get(at)?.bytes;
      if (at === undefined || !now || !isOurs(now)) return;
      const old = world.oldSidecars.get(`${disk.name}/${at}`);
      if (old) disk.drive.put(at, old);
      world.oldSidecars.set(`${disk.name}/${at}`, now);
      return;
    }
    case 'shelf-cut': {
      const shelf = disk.drive.files.get('_wembo/collections.json');
      if (shelf)
        disk.drive.put(
          '_wembo/collections.json',
          shelf.bytes.slice(0, Math.floor((shelf.bytes.length * (a + 1)) / 14)),
        );
      return;
    }
    case 'shelf-of-later-version': {
      const path = `_wembo/${b % 2 === 0 ? 'collections' : 'settings'}.json`;
      const shelf = disk.drive.text(path);
      if (shelf) disk.drive.put(path, shelf.replace(/"version": ?\d+/, '"version": 99'));
      return;
    }
    case 'clock-back':
      world.clock -= 3_600_000 * (1 + b);
      return;
    default:
  }
}

const sidecarBeside = (disk: Disk, path: string): string | null =>
  [`${path}.xmp`, path.replace(/\.[^.]*$/, '.xmp')].find((one) => disk.drive.files.has(one)) ?? null;

/** Another program writes one field of a sidecar; one in four takes out what it does not know. */
function writeElsewhere(model: Model, disk: Disk, path: string, picture: string, a: number, b: number): void {
  const beside = sidecarBeside(disk, path) ?? path.replace(/\.[^.]*$/, '.xmp');
  const existing = disk.drive.files.get(beside)?.bytes ?? null;
  const parsed = existing && parseSidecar(existing);
  if (existing && parsed?.state !== 'read') return;
  const key = WORD_FIELDS[a % WORD_FIELDS.length] ?? 'headline';
  const said = parsed?.state === 'read' ? parsed.value.fields : {};
  const word = model.words.newWord(picture);
  const plan = planSidecar({ existing, fields: { ...said, [key]: word }, embedded: {}, ending: 'jpg' });
  if (!('bytes' in plan)) return;
  const text = Buffer.from(plan.bytes).toString('utf8');
  disk.drive.put(
    beside,
    new Uint8Array(Buffer.from(b % 4 === 0 ? text.replace(/<wembo:Versions>[\s\S]*?<\/wembo:Versions>/, '') : text)),
  );
  model.words.saidElsewhere(word, typeof said[key] === 'string' ? String(said[key]) : null, disk);
}

function isThere(disk: Disk, path: string): boolean {
  const same = (one: string) => one.toLowerCase().normalize('NFC');
  return [...disk.drive.files.keys()].some((there) =>
    disk.drive.names === 'exact' ? there === path : same(there) === same(path),
  );
}

/**
 * The browser's data are gone; the drives are connected again, in any order: what was damaged or missing is so still.
 */
async function rebuildDrill(world: World, model: Model, tally: Tally, order: number): Promise<void> {
  const before = await settledWords(world, model);
  const places = PLACES.map((_, index) => (index + order) % PLACES.length);
  const drill: Pick<Act, 'kind' | 'a'>[] = [
    { kind: 'rebuild', a: 0 },
    ...places.map((a) => ({ kind: 'connect', a }) as const),
    { kind: 'scan', a: order },
    { kind: 'scan', a: order + 1 },
    { kind: 'scan', a: order + 2 },
    { kind: 'outbox', a: 0 },
    { kind: 'keep-aside', a: 0 },
    { kind: 'check', a: order },
    { kind: 'outbox', a: 0 },
  ];
  for (const act of drill) {
    await withinReason(one(world, model, { b: 0, stop: null, swap: null, ...act }, tally)).catch((error: unknown) => {
      throw new Error(`made anew, ${act.kind} ${act.a}: ${error instanceof Error ? error.message : String(error)}`, {
        cause: error,
      });
    });
  }
  await world.checkConnections();
  await model.words.holdAtRest(model.own);
  model.words.holdRebuilt(before, await settledWords(world, model));
}

/**
 * What the catalog says of each picture of which nothing is to be decided, and all of whose files lie on drives it can
 * hear.
 */
async function settledWords(world: World, model: Model): Promise<Map<string, FieldValues>> {
  const open = new Set(model.own.conflicts.map(({ photoId }) => photoId));
  const said = new Map<string, FieldValues>();
  const twice = new Set<string>();
  for (const file of model.own.files.values()) {
    const photo =
      file.state === 'present' && !open.has(file.photoId ?? '') ? model.own.photos.get(file.photoId ?? '') : undefined;
    const picture = world.contents.get(file.sha256 ?? '')?.picture;
    if (!photo || picture === undefined || !world.driveOf(file.driveId)) continue;
    const other = said.get(picture);
    if (other && other !== photo.fields) twice.add(picture);
    said.set(picture, photo.fields);
  }
  // two photos of one picture that say different things are two still
  for (const picture of twice) said.delete(picture);
  const heard = world.heardDisks();
  for (const disk of world.allDisks) {
    for (const path of photosOn(disk)) {
      const bytes = disk.drive.files.get(path)?.bytes ?? new Uint8Array();
      const content = world.contents.get(sha256Of(bytes));
      const fields = said.get(content?.picture ?? '');
      // what another program wrote into a file that was damaged before anybody heard it is settled by nobody
      const isUnheard = content?.isBent && wordsIn(bytes).some((word) => !Object.values(fields ?? {}).includes(word));
      if (!heard.has(disk) || isUnheard) said.delete(content?.picture ?? '');
    }
  }
  return said;
}

/** Everything is plugged in where it was picked, written and looked through: then catalog and disks agree. */
async function calm(world: World, model: Model, tally: Tally): Promise<void> {
  for (const disk of world.disks) disk.drive.capacityBytes = Infinity;
  for (const act of [
    { kind: 'outbox' },
    { kind: 'keep-aside' },
    { kind: 'outbox' },
    { kind: 'scan', a: 0 },
    { kind: 'scan', a: 1 },
    { kind: 'scan', a: 2 },
    { kind: 'outbox' },
    { kind: 'check', a: 0 },
    { kind: 'check', a: 1 },
    { kind: 'check', a: 2 },
    { kind: 'outbox' },
    { kind: 'outbox' },
    { kind: 'scan', a: 0 },
    { kind: 'scan', a: 1 },
    { kind: 'scan', a: 2 },
    { kind: 'outbox' },
    { kind: 'outbox' },
  ] as const) {
    await withinReason(one(world, model, { a: 0, b: 0, stop: null, swap: null, ...act }, tally)).catch(
      (error: unknown) => {
        throw new Error(`at rest, ${act.kind}: ${error instanceof Error ? error.message : String(error)}`, {
          cause: error,
        });
      },
    );
  }
  await world.checkConnections();
  await model.words.holdAtRest(model.own);
  const photoOf = new Map<string, string | null>();
  for (const file of await world.db.files.toArray()) {
    if (file.state === 'present' && file.sha256 !== null) {
      const other = photoOf.get(file.sha256);
      if (other !== undefined && other !== file.photoId)
        throw new Error(`F11: at rest, ${file.id} has the bytes of photo ${other} and is photo ${file.photoId}`);
      photoOf.set(file.sha256, file.photoId);
    }
    const place = world.connected.has(file.driveId)
      ? world.places.at(world.catalog.placeOf.get(file.driveId) ?? '')
      : null;
    if (!place || file.state !== 'present') continue;
    const there = await world
      .drive(world.catalog.placeOf.get(file.driveId) ?? '')
      .open(file.path)
      .catch(() => null);
    if (!there) throw new Error(`F2: at rest, ${file.id} is recorded and not there`);
    const item = await world.db.outbox.get(`move:${file.id}`);
    if (file.movingTo !== null && !item)
      throw new Error(`W3: at rest, ${file.id} is on its way and nothing brings it there`);
  }
}
