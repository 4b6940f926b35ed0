// The core on the command line: the code the application uses, on files from outside.
//
//   npm run --silent wembo -- inspect [--digest] [--files-from -] FILE...      one JSON line a file
//   npm run --silent wembo -- write --set KEY=VALUE... [--add KEY=VALUE...] [--embed] FILE...
//
// `write` puts fields into the sidecar of each file, or with --embed into the file itself. An empty VALUE clears the
// field; structures are given as JSON. Each file gives a line that says what is now true. A file that could not be read
// or written gives a line with its problem; the exit code is then 1.

import { createInterface } from 'node:readline';
import { inspectLine } from './inspect';
import { parseWishes, writeLine } from './write';

async function* listed(files: readonly string[], fromInput: boolean): AsyncGenerator<string> {
  yield* files;
  if (fromInput) for await (const line of createInterface({ input: process.stdin })) if (line !== '') yield line;
}

interface Arguments {
  files: string[];
  /** By option, its values in order. */
  options: Map<string, string[]>;
}

const WITH_VALUE = new Set(['--set', '--add', '--files-from']);
const ALONE = new Set(['--digest', '--embed']);

/** `null` where an option is not known or has no value. */
function parseArguments(words: readonly string[]): Arguments | null {
  const parsed: Arguments = { files: [], options: new Map() };
  for (let at = 0; at < words.length; at++) {
    const word = words[at] ?? '';
    if (word === '--') {
      parsed.files.push(...words.slice(at + 1));
      break;
    }
    if (!word.startsWith('--')) {
      parsed.files.push(word);
      continue;
    }
    const value = WITH_VALUE.has(word) ? words[++at] : '';
    if (value === undefined || (!WITH_VALUE.has(word) && !ALONE.has(word))) return null;
    parsed.options.set(word, [...(parsed.options.get(word) ?? []), value]);
  }
  return parsed;
}

function usage(why: string): never {
  console.error(
    `${why}\nUsage: wembo inspect [--digest] [--files-from -] FILE...\n       wembo write --set KEY=VALUE... [--add KEY=VALUE...] [--embed] FILE...`,
  );
  process.exit(2);
}

// a reader that has seen enough, such as `head`, closes the pipe
process.stdout.on('error', () => process.exit(0));

const [command, ...words] = process.argv.slice(2);
const given = parseArguments(words) ?? usage('An option is not known or has no value.');
const { files, options } = given;
const fromInput = options.get('--files-from')?.[0] === '-';
if (command !== 'inspect' && command !== 'write') usage(`There is no command ${command ?? ''}.`);
if (files.length === 0 && !fromInput) usage('No file is given.');

const wishes = command === 'write' ? parseWishes(options.get('--set') ?? [], options.get('--add') ?? []) : [];
if (typeof wishes === 'string') usage(wishes);
let sound = true;
for await (const file of listed(files, fromInput)) {
  const line =
    command === 'inspect'
      ? await inspectLine(file, options.has('--digest'))
      : await writeLine(file, wishes, options.has('--embed'));
  console.log(JSON.stringify(line));
  if ('failed' in line) sound = false;
}
process.exitCode = sound ? 0 : 1;
