// The page that lies beside sealed objects in the open, for whoever has the bucket and the key and has no Wembo.

export const strangersPage = (hasPassphrase: boolean): string => `A PHOTO ARCHIVE, SEALED

Every object beside this page that ends in .age is a file sealed with age, an open
format (age-encryption.org/v1) that free programs of that name open. Names and
folders are those of the archive. What is in it is told by the file
_wembo/READ-ME.txt.age, when it is opened.

To get everything back:

1. Copy the bucket, or this folder of it, with any program for S3-compatible stores.
${
  hasPassphrase
    ? `2. Get the key. It stands on the sheet that was printed when this store was set up.
   Or, with the passphrase, which the program asks for:
       age -d -o key.txt wembo-key.age`
    : `2. Take the key from the sheet that was printed when this store was set up, and write
   it into a file key.txt: one line, AGE-SECRET-KEY-1 and 58 more letters.`
}
3. Open every file, and put it beside the sealed one without .age:
       find . -name '*.age' ! -name wembo-key.age | while read -r f; do
         age -d -i key.txt -o "\${f%.age}" "$f"; done

4. Then  sha256sum -c _wembo/manifest-sha256.txt  says whether every photo is right.

Without the key${hasPassphrase ? ' and the passphrase' : ''} nobody can open it, neither who made these files nor who wrote the program.
`;
