// The page that lies beside sealed objects in the open, for whoever has the bucket and the key and has no Wembo.

const HEADING = 'A PHOTO ARCHIVE, SEALED';
const NAMES_SEALED = 'Names are sealed, too.';

/** Whether it is the page of a sealed store, and whether names are sealed there. */
export function readStrangersPage(text: string): { sealsNames: boolean } | null {
  return text.startsWith(HEADING) ? { sealsNames: text.includes(NAMES_SEALED) } : null;
}

const withNames = `2. Open every file under its own name, which stands in the object that ends in .name.age beside it:
       find . -name '*.name.age' | while read -r n; do
         f=$(age -d -i key.txt "$n"); mkdir -p "restored/$(dirname "$f")"
         age -d -i key.txt -o "restored/$f" "\${n%.name.age}.age"; done; cd restored`;

const withoutNames = `2. Open every file, and put it beside the sealed one without .age:
       find . -name '*.age' ! -name wembo-key.age | while read -r f; do
         age -d -i key.txt -o "\${f%.age}" "$f"; done`;

const byPassphrase = `   Get the key. It stands on the sheet that was printed when this store was set up.
   Or, with the passphrase, which the program asks for:
       age -d -o key.txt wembo-key.age`;

const bySheet = `   Take the key from the sheet that was printed when this store was set up, and write
   it into a file key.txt: one line, AGE-SECRET-KEY-1 and 58 more letters.`;

export const strangersPage = (hasPassphrase: boolean, sealsNames: boolean): string => `${HEADING}

Every object beside this page that ends in .age is a file sealed with age, an open
format (age-encryption.org/v1) that free programs of that name open. ${sealsNames ? NAMES_SEALED : 'Names and\nfolders are those of the archive.'}
What is in it is told by the file _wembo/READ-ME.txt, when it is opened.

To get everything back:

1. Copy the bucket, or this folder of it, with any program for S3-compatible stores.
${hasPassphrase ? byPassphrase : bySheet}

${sealsNames ? withNames : withoutNames}

3. Then  sha256sum -c _wembo/manifest-sha256.txt  says whether every photo is right.

Without the key${hasPassphrase ? ' and the passphrase' : ''} nobody can open it, neither who made these files nor who wrote the program.
`;
