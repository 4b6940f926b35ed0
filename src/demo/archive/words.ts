// What the museum has written down of its words: the vocabulary, as it was typed one winter and not finished, and the
// short codes for the people and places of the survey. The misspelt keywords of the photos are not in it.

import { readIndented } from '@/core/vocabulary/indented';
import type { ListedWord } from '@/core/vocabulary/listed';
import type { VocabularyWord } from '@/core/vocabulary/vocabulary';
import type { ShorthandList } from '@/core/describe/shorthand';

const VOCABULARY = `
vessels {craft}
	boat
		rowing boat {oared boat}
		fishing boat
		trawler
		smack {sloop} # decked, two masts, of the time before engines
	ferry
	hull
	sail
harbour {port}
	quay {pier}
	slip {slipway} # where boats are drawn up
	boathouse
	lighthouse
	lamp
work
	people at work
	boatbuilding
		shipwright
		planking
		refit
	fishing
		net
		fish box
		klipfish {split cod}
	sheep
		wool
		gathering
		outfield
nature
	bird cliff
		kittiwake
		fulmar
		guillemot
		puffin
		gannet
	waterfall
	beach
	cliff
	sound
	fjord
weather and light
	winter
	spring
	summer
	autumn
	night
	evening
	snow
	rain
	storm
	fog
	northern light
	midsummer
buildings
	turf roof
	church
	dry-stone wall
	village
`;

export function demoVocabulary(at: number): VocabularyWord[] {
  let made = 0;
  const words = (list: readonly ListedWord[], parentId: string | null): VocabularyWord[] =>
    list.flatMap(({ word, synonyms, note, below }) => {
      const id = `demo-word-${String((made += 1)).padStart(3, '0')}`;
      return [{ id, word, parentId, synonyms, note, updatedAt: at, deleted: false }, ...words(below, id)];
    });
  return words(readIndented(VOCABULARY), null);
}

export const demoShorthand = (at: number): ShorthandList[] => [
  {
    id: 'demo-shorthand-people',
    name: 'People of the survey',
    active: true,
    updatedAt: at,
    deleted: false,
    entries: [
      { code: 'jp', expansions: ['Jákup á Tokunesi', 'Jákup á Tokunesi, skipper of the Kvirrulýsið'] },
      { code: 'sd', expansions: ['Sólja við Slippin', 'Sólja við Slippin, boatbuilder in Vágur'] },
      { code: 'eh', expansions: ['Elin á Vitabrekku', 'Elin á Vitabrekku, keeper of the light at Kallur'] },
      { code: 'rj', expansions: ['Rói á Skarvagerði'] },
    ],
  },
  {
    id: 'demo-shorthand-places',
    name: 'Places',
    active: true,
    updatedAt: at,
    deleted: false,
    entries: [
      { code: 'gj', expansions: ['Gjógv', 'the gorge harbour at Gjógv'] },
      { code: 'kl', expansions: ['Klaksvík'] },
      { code: 'th', expansions: ['Tórshavn', 'the eastern harbour of Tórshavn'] },
    ],
  },
];
