'use client';

// All that a profile says: the picture, its names and folder, the words that leave, a watermark, what is noted.

import { Checkbox, Input, Radio, Select } from 'antd';
import type { BlankName, NameFacts, Pattern } from '@/core/names/pattern';
import { type DeliveryFolder, type ProfileContent, isShownByBrowsers } from '@/core/send-out/delivery-profile';
import type { WordsPolicy } from '@/core/send-out/words-policy';
import type { DriveRecord } from '@/storage/catalog/records';
import { PatternEditor } from '@/features/parts/naming/pattern-editor';
import { useSession } from '@/features/parts/session/use-session';
import { PictureSettingsForm } from './picture-settings';
import styles from './send-out.module.css';
import { WatermarkForm } from './watermark-form';

interface Props {
  content: ProfileContent;
  onChange: (patch: Partial<ProfileContent>) => void;
  drives: DriveRecord[];
  blanks: NameFacts['blanks'];
  onBlank: (name: BlankName, text: string) => void;
}

export function ProfileSettings({ content, onChange, drives, blanks, onBlank }: Props) {
  return (
    <>
      <section className={styles.panel} aria-label="Picture">
        <h3>Picture</h3>
        <PictureSettingsForm picture={content.picture} onChange={(picture) => onChange({ picture })} />
      </section>
      <section className={styles.panel} aria-label="Names and folder">
        <h3>Names and folder</h3>
        <Blanks patterns={patternsOf(content)} blanks={blanks} onBlank={onBlank} />
        <PatternEditor label="Names" of="names" pattern={content.names} onChange={(names) => onChange({ names })} />
        <FolderForm folder={content.folder} onChange={(folder) => onChange({ folder })} drives={drives} />
      </section>
      <section className={styles.panel} aria-label="Words">
        <h3>Words that leave</h3>
        <WordsForm words={content.words} onChange={(words) => onChange({ words })} />
      </section>
      {content.picture.kind === 'made' && (
        <section className={styles.panel} aria-label="Watermark">
          <h3>Watermark</h3>
          <WatermarkForm watermark={content.watermark} onChange={(watermark) => onChange({ watermark })} />
        </section>
      )}
      <section className={styles.panel} aria-label="Along with them">
        <h3>Along with them</h3>
        <Checkbox
          checked={content.extras.page}
          disabled={!isShownByBrowsers(content.picture)}
          onChange={({ target }) => onChange({ extras: { ...content.extras, page: target.checked } })}
        >
          A page of the pictures (index.html), opened from any disk
        </Checkbox>
        <Checkbox
          checked={content.extras.table}
          onChange={({ target }) => onChange({ extras: { ...content.extras, table: target.checked } })}
        >
          A table of the captions (captions.csv)
        </Checkbox>
        <label htmlFor="sent-as">Noted as sent to</label>
        <Input
          id="sent-as"
          value={content.sentAs}
          maxLength={500}
          placeholder="the profile’s name"
          onChange={({ target }) => onChange({ sentAs: target.value })}
        />
      </section>
    </>
  );
}

const patternsOf = ({ names, folder }: ProfileContent): Pattern[] => [
  names,
  ...(folder.kind === 'beside' ? [] : [folder.parts]),
];

const BLANKS: Record<BlankName, string> = { kind: 'Kind of work', client: 'Client', subject: 'Subject' };

/** What the patterns ask to be typed once. */
function Blanks({
  patterns,
  blanks,
  onBlank,
}: {
  patterns: Pattern[];
  blanks: NameFacts['blanks'];
  onBlank: (name: BlankName, text: string) => void;
}) {
  const asked = (Object.keys(BLANKS) as BlankName[]).filter((name) =>
    patterns.flat().some((part) => part.kind === 'blank' && part.of === name),
  );
  return asked.map((name) => (
    <p key={name} className={styles.row}>
      <label htmlFor={`blank-${name}`}>{BLANKS[name]}</label>
      <Input id={`blank-${name}`} value={blanks[name]} onChange={({ target }) => onBlank(name, target.value)} />
    </p>
  ));
}

function FolderForm({
  folder,
  onChange,
  drives,
}: {
  folder: DeliveryFolder;
  onChange: (folder: DeliveryFolder) => void;
  drives: DriveRecord[];
}) {
  const connections = useSession((state) => state.connections);
  const writable = drives.filter(({ id, access }) => connections[id]?.state === 'connected' && access === 'write');
  return (
    <>
      <Radio.Group
        aria-label="Where to"
        value={folder.kind}
        onChange={({ target }) => onChange(otherFolder(folder, target.value as DeliveryFolder['kind']))}
      >
        <Radio value="on-drive">a folder on a drive</Radio>
        <Radio value="zip">a ZIP on a drive</Radio>
        <Radio value="beside">beside each original</Radio>
      </Radio.Group>
      {folder.kind !== 'beside' ? (
        <>
          <p className={styles.row}>
            <label htmlFor="delivery-drive">Drive</label>
            <Select
              id="delivery-drive"
              value={writable.some(({ id }) => id === folder.driveId) ? folder.driveId : null}
              placeholder="choose one"
              options={writable.map(({ id, name }) => ({ value: id, label: name }))}
              onChange={(driveId) => onChange({ ...folder, driveId })}
              style={{ minWidth: 200 }}
            />
          </p>
          <PatternEditor
            label="Folder"
            of="folders"
            pattern={folder.parts}
            onChange={(parts) => onChange({ ...folder, parts })}
          />
          {folder.kind === 'zip' && (
            <p className={styles.row}>
              <label htmlFor="zip-name">Its name</label>
              <Input
                id="zip-name"
                value={folder.name}
                maxLength={200}
                suffix=".zip"
                onChange={({ target }) => onChange({ ...folder, name: target.value || 'photos' })}
              />
            </p>
          )}
        </>
      ) : (
        <p className={styles.row}>
          <label htmlFor="beside-name">Folder in it</label>
          <Input
            id="beside-name"
            value={folder.name}
            maxLength={200}
            onChange={({ target }) => onChange({ ...folder, name: target.value.replaceAll('/', '') || 'delivered' })}
          />
        </p>
      )}
    </>
  );
}

/** The drive and its folder stay where they can. */
function otherFolder(folder: DeliveryFolder, kind: DeliveryFolder['kind']): DeliveryFolder {
  if (kind === 'beside') return { kind, name: 'delivered' };
  const at =
    folder.kind === 'beside'
      ? { driveId: null, parts: [{ kind: 'text' as const, text: 'delivered' }] }
      : { driveId: folder.driveId, parts: folder.parts };
  return kind === 'zip' ? { kind, ...at, name: 'photos' } : { kind, ...at };
}

const WHICH: { value: WordsPolicy['which']; label: string }[] = [
  { value: 'all', label: 'all, with ratings and what the camera noted' },
  { value: 'descriptive', label: 'descriptions and rights' },
  { value: 'rights', label: 'rights alone' },
  { value: 'none', label: 'none' },
];
const PLACE: { value: WordsPolicy['place']; label: string }[] = [
  { value: 'in', label: 'in' },
  { value: 'town', label: 'town and country alone' },
  { value: 'out', label: 'out' },
];
const PEOPLE: { value: WordsPolicy['people']; label: string }[] = [
  { value: 'in', label: 'in' },
  { value: 'out', label: 'out' },
];

function WordsForm({ words, onChange }: { words: WordsPolicy; onChange: (words: WordsPolicy) => void }) {
  const isDescribed = words.which === 'all' || words.which === 'descriptive';
  return (
    <>
      <p className={styles.row}>
        <label htmlFor="which-words">Words</label>
        <Select
          id="which-words"
          value={words.which}
          options={WHICH}
          onChange={(which) => onChange({ ...words, which })}
          style={{ minWidth: 260 }}
        />
      </p>
      {isDescribed && (
        <>
          <p className={styles.row}>
            <span id="place-out">Places</span>
            <Radio.Group
              aria-labelledby="place-out"
              size="small"
              optionType="button"
              options={PLACE}
              value={words.place}
              onChange={({ target }) => onChange({ ...words, place: target.value as WordsPolicy['place'] })}
            />
          </p>
          <p className={styles.row}>
            <span id="people-out">People</span>
            <Radio.Group
              aria-labelledby="people-out"
              size="small"
              optionType="button"
              options={PEOPLE}
              value={words.people}
              onChange={({ target }) => onChange({ ...words, people: target.value as WordsPolicy['people'] })}
            />
          </p>
        </>
      )}
      <p className="quiet">
        Whatever is chosen, private words, people and spots stay here, and so does a text that names one of them.
      </p>
    </>
  );
}
