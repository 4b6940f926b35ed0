// The vocabulary of the survey: a tree of keywords, two blanks a level, other names of a word behind a bar (Faroese and
// English). Words of the trade and of the islands, from memory.

import type { FieldValue } from '@/core/fields/shape';

const TREE = `
vessels | skip
  boat | bátur
    rowing boat | róðrarbátur
      four-man boat | fýramannafar
      six-man boat | seksmannafar
      eight-man boat | áttamannafar
    fishing boat | útróðrarbátur
    mail boat | postbátur
    dinghy
  smack | sluppur
  trawler | trolari
  longliner | línuskip
  ferry | ferja
  lifeboat | bjargingarbátur
parts of a boat
  hull | skrokkur
    keel | kjølur
    planking | borðaklæðing
    rib | rong
    stem
  mast | mastur
  sail | segl
  oar | ár
  rudder | róður
  propeller
  wheelhouse | stýrhús
boatbuilding | bátasmíð
  shipwright | skipasmiður
  slip | sleipi
  refit
  launch
  caulking
  wood | viður
  boatyard
harbours | havnir
  harbour | havn
    quay | bryggja
    breakwater | molja
    mooring
    lamp | lykt
    crane
    fish auction
  boathouse | neyst
  landing
  marina
fishing | fiskiskapur
  net | garn
    gill net
    trawl
    lumpfish net
  float | flot
  line | lína
  hook
  rope | tógv
  fish box | fiskakassi
  bait
  catch | veiða
    cod | toskur
    ling | longa
    haddock | hýsa
    saithe | upsi
    mackerel | makrelur
    herring | sild
  klipfish | klippfiskur
  fish drying
aids to navigation
  lighthouse | viti
  beacon | varði
  buoy
  fog signal
buildings | bygningar
  village | bygd
  church | kirkja
  house | hús
    turf roof | flagtak
    corrugated iron
    cellar | kjallari
  drying shed | hjallur
  dry-stone wall | steinur
  shed
  sheepfold | rætt
land | land
  island | oyggj
  mountain | fjall
  ridge | egg
  slope | líð
  cliff | bjarg
    bird cliff | fuglabjarg
    stack | drangur
    cave
  valley | dalur
  outfield | hagi
  infield | bøur
  gorge | gjógv
  stream | á
  waterfall | fossur
  lake | vatn
  lagoon | pollur
sea | hav
  sound | sund
  fjord | fjørður
  bay | vík
  beach | sandur
  surf | brim
  swell | alda
  current | streymur
  crossing
weather | veður
  fog | mjørki
  rain | regn
  snow | kavi
  storm | stormur
  clear sky
  rainbow
light
  morning | morgun
  evening | kvøld
  night | nátt
  midsummer | jóansøka
  northern light | norðlýsi
  eclipse | sólarmyrking
  reflection
seasons | árstíðir
  spring | vár
  summer | summar
  autumn | heyst
  winter | vetur
birds | fuglar
  fulmar | náti
  kittiwake | rita
  guillemot | lomvigi
  puffin | lundi
  razorbill | álka
  gannet | súla
  eider | æða
  oystercatcher | tjaldur
  arctic tern | terna
  gull | mási
  storm petrel | drunnhvíti
  shag | skarvur
animals | djór
  sheep | seyður
    lamb
    ram | veðrur
  dog | hundur
  horse | ross
  seal | kópur
wool | ull
  fleece
  spinning
  knitting | binding
people | fólk
  people at work
    fisherman | fiskimaður
    deckhand
    ferryman
    lighthouse keeper
    shepherd | seyðamaður
    harbour master
  crew | manning
  onlookers
  children | børn
customs | siðir
  Ólavsøka
  rowing race | kappróður
  gathering | fjallgonga
  chain dance | føroyskur dansur
  national dress | føroysk klæði
  harvest | heysting
  peat cutting | torvskurður
photography
  black and white
  print
  glass negative
  panorama
  detail
  rust
  from the air
places | støð
  Norðoyar
    Kalsoy
    Fugloy
    Klaksvík
    Svínoy
  Eysturoy
  Streymoy
    Tórshavn
    Nólsoy
  Vágar
    Mykines
  Sandoy
    Skúvoy
  Suðuroy
`;

export interface VocabularyTerm {
  name: string;
  synonyms: string[];
  /** Those it stands under, from the top. */
  above: string[];
}

export const VOCABULARY: readonly VocabularyTerm[] = readTree(TREE);

function readTree(text: string): VocabularyTerm[] {
  const path: string[] = [];
  return text
    .split('\n')
    .filter((line) => line.trim() !== '')
    .map((line) => {
      const depth = (line.length - line.trimStart().length) / 2;
      const [name = '', ...synonyms] = line.split('|').map((part) => part.trim());
      path.length = depth;
      const above = [...path];
      path.push(name);
      return { name, synonyms, above };
    });
}

interface Node {
  keyword: string;
  applied?: boolean;
  children: Node[];
}

/** The keywords of a photo as a tree, as the MWG guidelines write it; `undefined` when none is in the vocabulary. */
export function treeOf(keywords: readonly string[]): FieldValue | undefined {
  const roots: Node[] = [];
  for (const keyword of keywords) {
    const term = VOCABULARY.find(({ name }) => name === keyword);
    if (!term) continue;
    let level = roots;
    for (const step of [...term.above, term.name]) {
      let node = level.find((one) => one.keyword === step);
      if (!node) level.push((node = { keyword: step, children: [] }));
      if (step === term.name) node.applied = true;
      level = node.children;
    }
  }
  return roots.length === 0 ? undefined : { hierarchy: roots.map(asValue) };
}

const asValue = ({ keyword, applied, children }: Node): { [member: string]: FieldValue } => ({
  keyword,
  ...(applied && { applied }),
  ...(children.length > 0 && { children: children.map(asValue) }),
});
