// What is said of a store elsewhere, and the sheet on which its key is kept.

interface Found {
  holds: 'nothing' | 'drive' | 'other';
  sealed: 'by-passphrase' | 'by-key' | null;
}

export function foundStoreSentence({ holds, sealed }: Found): string {
  if (sealed === 'by-passphrase')
    return 'A sealed archive lies there. Its passphrase opens it, or the key from its sheet.';
  if (sealed === 'by-key') return 'A sealed archive lies there. The key from its sheet opens it, and nothing else.';
  if (holds === 'drive') return 'An archive lies there, not sealed.';
  return holds === 'nothing'
    ? 'The store answers. Nothing lies there yet.'
    : 'The store answers. Files lie there already: they stay, and are cataloged. To seal everything, name a folder of its own.';
}

export interface KeySheet {
  endpoint: string;
  bucket: string;
  prefix: string;
  identity: string;
  hasPassphrase: boolean;
  /** As it is to be read by people. */
  madeOn: string;
}

/** Lines of a page to be printed; whoever finds it needs nothing else but the bucket and any age program. */
export function keySheetText({ endpoint, bucket, prefix, identity, hasPassphrase, madeOn }: KeySheet): string {
  return [
    'KEY SHEET OF A STORE OF PHOTOGRAPHS',
    '',
    `Address   ${endpoint}`,
    `Bucket    ${bucket}`,
    ...(prefix === '' ? [] : [`Folder    ${prefix}`]),
    `Printed   ${madeOn}`,
    '',
    'This line opens every file in it:',
    '',
    identity,
    '',
    'Write it into a file key.txt. Then, with the program age, of every file:',
    '    age -d -i key.txt -o PHOTO.jpg PHOTO.jpg.age',
    ...(hasPassphrase
      ? ['', 'The passphrase gets it back from the store, too:', '    age -d -o key.txt wembo-key.age']
      : ['', 'This sheet is the only place where the key stands outside the computer it was made on.']),
    '',
    'Whoever has this sheet and the bucket can see everything in it. Keep it where the',
    'archive does not burn with it. Nobody can make it again.',
  ].join('\n');
}
