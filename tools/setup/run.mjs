// The two commands of the README, and what they share: install what is missing, make the demo data, build, start, test.
// Usage: node tools/setup/run.mjs demo | start [--drive FOLDER …] [--port NUMBER] | test | check

import { spawn, spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';

const ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../..');
/** Ours: W, E, M, B on the keys of a telephone. Whatever is served under a port shares what the browser keeps for it. */
const PORT = process.env.PORT ?? '9362';
const HOST = '127.0.0.1';

process.chdir(ROOT);

/** Runs a program in the foreground; ends this one when it fails. */
function run(program, args, options = {}) {
  const { status, error } = spawnSync(program, args, { stdio: 'inherit', ...options });
  if (error || status !== 0) {
    console.error(`\n${[program, ...args].join(' ')} failed${error ? `: ${error.message}` : ` (${status})`}.`);
    process.exit(status || 1);
  }
}

const bin = (name) => path.join(ROOT, 'node_modules', '.bin', name);

/** Installs the packages when there are none, or when the lock file is not the one they were installed from. */
function installPackages() {
  const installed = path.join(ROOT, 'node_modules', '.package-lock.json');
  const stamp = path.join(ROOT, 'node_modules', '.wembo-lock');
  const lock = createHash('sha256').update(readFileSync('package-lock.json')).digest('hex');
  if (existsSync(installed) && existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  run('npm', ['ci', '--no-audit', '--no-fund']);
  writeFileSync(stamp, lock);
}

/** Decoders that are loaded by their own address, when a picture needs one: served as they come in their packages. */
const DECODERS = {
  'wasm-vips/lib': ['vips-es6.js', 'vips.wasm', 'vips-heif.wasm'],
  'libraw-wasm/dist': ['libraw.js', 'libraw.wasm'],
};

/** What contact sheets are set in, by script: embedded into the PDF as far as its letters are used. */
const FONTS = {
  '@fontsource/ibm-plex-sans/files': ['latin', 'latin-ext', 'greek', 'cyrillic', 'cyrillic-ext', 'vietnamese'].flatMap(
    (script) => [400, 600].map((weight) => `ibm-plex-sans-${script}-${weight}-normal.woff`),
  ),
};

function layFiles() {
  for (const [name, places] of Object.entries({ decoders: DECODERS, fonts: FONTS })) {
    const folder = path.join(ROOT, 'public', name);
    mkdirSync(folder, { recursive: true });
    for (const [place, files] of Object.entries(places))
      for (const file of files) copyFileSync(path.join(ROOT, 'node_modules', place, file), path.join(folder, file));
  }
}

function sourcesDigest() {
  const hash = createHash('sha256');
  const walk = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const file = path.join(folder, entry.name);
      if (entry.isDirectory()) walk(file);
      else hash.update(file).update(readFileSync(file));
    }
  };
  for (const folder of ['src', 'public']) walk(folder);
  for (const file of ['package-lock.json', 'next.config.ts', 'tsconfig.json']) hash.update(readFileSync(file));
  return hash.digest('hex');
}

/** Builds the application unless what is built is of these sources. */
function build() {
  layFiles();
  const stamp = path.join('.next', 'wembo-sources');
  const digest = sourcesDigest();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === digest) return;
  run(bin('next'), ['build'], { env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' } });
  writeFileSync(stamp, digest);
}

const makeDemo = () => run(bin('tsx'), ['src/demo/make.ts']);

/** `--drive` may stand several times. */
function startOptions(args) {
  const { values } = parseArgs({
    args,
    options: { drive: { type: 'string', multiple: true, default: [] }, port: { type: 'string', default: PORT } },
  });
  const drives = values.drive.map((folder) => path.resolve(process.env.INIT_CWD ?? ROOT, folder));
  const missing = drives.find((folder) => !existsSync(folder));
  if (missing) {
    console.error(`There is no folder ${missing}.`);
    process.exit(1);
  }
  return { drives, port: values.port };
}

/**
 * The demo's stand-in for a store elsewhere, beside it on the next port. What is put into it stays from one start to the
 * next, and so do its keys.
 */
function startStore(port) {
  const folder = path.join(ROOT, '.store');
  const keys = path.join(folder, 'keys.json');
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  if (!existsSync(keys)) {
    const secretAccessKey = randomBytes(24).toString('base64url');
    const made = { bucket: 'harbours', accessKeyId: 'HARBOURSURVEY', secretAccessKey };
    writeFileSync(keys, JSON.stringify(made), { mode: 0o600 });
  }
  const address = { endpoint: `http://${HOST}:${port}`, region: 'faroe-1', prefix: 'survey' };
  const words = JSON.stringify({ ...address, ...JSON.parse(readFileSync(keys, 'utf8')) });
  const started = spawn(bin('tsx'), ['src/demo/store/serve.ts', folder, String(port)], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, WEMBO_STORE: words },
  });
  return { process: started, words };
}

/** The key is new at each start, and stands behind `#` in the link: no log and no other site sees it. */
function serve(demo, args = []) {
  const { drives, port } = startOptions(args);
  const key = randomBytes(24).toString('base64url');
  const store = demo ? startStore(Number(port) + 1) : null;
  const server = spawn(bin('next'), ['start', '--hostname', HOST, '--port', port], {
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...process.env,
      WEMBO_DEMO: demo ? '1' : '0',
      WEMBO_HOST: `${HOST}:${port}`,
      WEMBO_TOKEN: key,
      WEMBO_DRIVES: JSON.stringify(drives),
      ...(store && { WEMBO_STORE: store.words }),
      // our packages are pinned: what later versions of one will need is nothing a person can act on
      AWS_SDK_JS_NODE_VERSION_SUPPORT_WARNING_DISABLED: 'true',
      NEXT_TELEMETRY_DISABLED: '1',
    },
  });
  server.stdout.on('data', (chunk) => {
    if (String(chunk).includes('Ready'))
      console.log(
        `\nWembo is at http://${HOST}:${port}/#key=${key}\nThis link lets that page alone reach folders of this machine, until Ctrl+C ends the program.\n`,
      );
  });
  server.on('exit', (code) => {
    store?.process.kill();
    process.exit(code ?? 0);
  });
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
}

/** Programs the tests hold our work against, by the Debian package that has them. */
const PROGRAMS = [
  { program: 'chromium', package: 'chromium' },
  { program: 'exiftool', package: 'libimage-exiftool-perl' },
  { program: 'exiv2', package: 'exiv2' },
  { program: 'xmllint', package: 'libxml2-utils' },
  { program: 'sha256sum', package: 'coreutils' },
  { program: 'age', package: 'age' },
  { program: 'script', package: 'bsdutils' },
  { program: 'gpsbabel', package: 'gpsbabel' },
  { program: 'pdftotext', package: 'poppler-utils' },
  { program: 'unzip', package: 'unzip' },
  { file: '/usr/share/zoneinfo/Atlantic/Faroe', program: 'the zone database', package: 'tzdata' },
];

const has = (program) => spawnSync('sh', ['-c', `command -v ${program}`]).status === 0;

function installPrograms() {
  const missing = PROGRAMS.filter(({ program, file }) => (file ? !existsSync(file) : !has(program)));
  if (missing.length === 0) return;
  const packages = missing.map((item) => item.package);
  console.log(`Installing for the tests: ${packages.join(', ')}`);
  const root = process.getuid?.() === 0 ? [] : ['sudo'];
  const apt = (...args) =>
    spawnSync([...root, 'apt-get', ...args][0], [...root, 'apt-get', ...args].slice(1), {
      stdio: 'inherit',
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    }).status === 0;
  const done =
    has('apt-get') && apt('update', '-qq') && apt('install', '-y', '-qq', '--no-install-recommends', ...packages);
  if (!done) {
    console.error(
      `\nThe tests need ${missing.map((item) => item.program).join(', ')}, which could not be installed here.\nOn Debian or Ubuntu, as root: apt-get install ${packages.join(' ')}\n`,
    );
    process.exit(1);
  }
}

/** Source packages whose test pictures every decoder is tried on. */
const PICTURE_CORPORA = ['pillow', 'tiff', 'kimageformats', 'golang-golang-x-image', 'libheif'];
/**
 * Source packages whose test pictures (made by hundreds of cameras and programs, some of them hostile) our reading is
 * held against.
 */
const CORPORA = ['libimage-exiftool-perl', 'exiv2', ...PICTURE_CORPORA];
const CORPUS_FOLDER = path.join(ROOT, '.reference');

/**
 * Fetches them where the system's own package sources offer them; without them the tests that use them say so and are
 * left out.
 */
function fetchCorpora() {
  const wanted = CORPORA.filter((name) => !existsSync(path.join(CORPUS_FOLDER, name)));
  if (wanted.length === 0 || !has('apt-get') || !has('tar')) return;
  const lists = path.join(CORPUS_FOLDER, 'lists');
  mkdirSync(path.join(lists, 'partial'), { recursive: true });
  const sources = path.join(CORPUS_FOLDER, 'sources.list');
  writeFileSync(sources, `${debianSources().join('\n')}\n`);
  const options = [
    '-qq',
    '-o',
    `Dir::Etc::SourceList=${sources}`,
    '-o',
    'Dir::Etc::SourceParts=/dev/null',
    '-o',
    `Dir::State::Lists=${lists}`,
    '-o',
    'APT::Sandbox::User=root',
  ];
  const apt = (...args) =>
    spawnSync('apt-get', [...options, ...args], { cwd: CORPUS_FOLDER, stdio: 'inherit' }).status === 0;
  if (!apt('update'))
    return console.warn(
      'The source packages with test pictures could not be listed; the tests that use them are left out.',
    );
  for (const name of wanted) {
    const archive =
      apt('source', '--download-only', name) &&
      readdirSync(CORPUS_FOLDER).find((file) => file.startsWith(`${name}_`) && file.includes('.orig.tar.'));
    const folder = path.join(CORPUS_FOLDER, name);
    if (archive) mkdirSync(folder, { recursive: true });
    if (
      !archive ||
      spawnSync('tar', ['xf', archive, '-C', folder, '--strip-components=1'], { cwd: CORPUS_FOLDER, stdio: 'inherit' })
        .status !== 0
    )
      console.warn(`The test pictures of ${name} could not be fetched; the tests that use them are left out.`);
  }
}

/** The system's package sources, asked for source packages: both forms in which they are written down. */
function debianSources() {
  const folder = '/etc/apt/sources.list.d';
  const files = [
    existsSync('/etc/apt/sources.list') && '/etc/apt/sources.list',
    ...(existsSync(folder) ? readdirSync(folder).map((name) => path.join(folder, name)) : []),
  ].filter(Boolean);
  return files.flatMap((file) => {
    const text = readFileSync(file, 'utf8');
    if (file.endsWith('.list'))
      return text
        .split('\n')
        .filter((line) => line.startsWith('deb '))
        .map((line) => line.replace(/^deb /, 'deb-src '));
    if (!file.endsWith('.sources')) return [];
    return text.split(/\n\s*\n/).flatMap((stanza) => {
      const field = (name) => new RegExp(`^${name}:\\s*(.+)$`, 'm').exec(stanza)?.[1]?.trim();
      const key = field('Signed-By');
      if (!field('URIs') || !field('Suites')) return [];
      return field('URIs')
        .split(/\s+/)
        .flatMap((uri) =>
          field('Suites')
            .split(/\s+/)
            .map((suite) => `deb-src ${key ? `[signed-by=${key}] ` : ''}${uri} ${suite} ${field('Components') ?? ''}`),
        );
    });
  });
}

/** Runs programs at the same time, and ends this one when one of them failed. */
async function together(...programs) {
  const failed = await Promise.all(
    programs.map(
      ([program, ...args]) =>
        new Promise((resolve) => {
          const child = spawn(bin(program), args, { stdio: 'inherit' });
          child.on('error', () => resolve(program));
          child.on('exit', (code) => resolve(code === 0 ? null : program));
        }),
    ),
  );
  const names = failed.filter(Boolean);
  if (names.length === 0) return;
  console.error(`\n${names.join(', ')} failed.`);
  process.exit(1);
}

async function check() {
  run(bin('next'), ['typegen']);
  await together(
    ['tsc', '--noEmit'],
    ['eslint', '.', '--max-warnings', '0'],
    ['prettier', '--check', '--log-level', 'warn', '.'],
  );
  await together(
    ['tsc', '-p', 'src/core/tsconfig.json'],
    ['depcruise', 'src', '--config', '.dependency-cruiser.cjs', '--output-type', 'err'],
    ['knip'],
  );
  run('node', ['tools/check-names.mjs']);
  console.log('types, lint, form, import directions, names, unused code: in order');
}

const SLOWEST = 10;

/** Runs all tests; says which took longest and how long each stage took, and ends with one line that counts them. */
function test(stages) {
  const report = path.join(ROOT, '.work', 'tests.json');
  // what the tests lay down goes with them
  const scratch = mkdtempSync(path.join(tmpdir(), 'wembo-tests-'));
  const { status } = spawnSync(
    bin('vitest'),
    ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`, ...process.argv.slice(3)],
    { stdio: 'inherit', env: { ...process.env, TMPDIR: scratch } },
  );
  try {
    rmSync(scratch, { recursive: true, force: true, maxRetries: 3 });
  } catch (error) {
    // a drive that a killed test left mounted
    console.warn(`Left in ${scratch}: ${error.message}`);
  }
  if (!existsSync(report)) process.exit(status || 1);
  const { numPassedTests, numFailedTests, numFailedTestSuites, numPendingTests, testResults } = JSON.parse(
    readFileSync(report, 'utf8'),
  );
  const failed = numFailedTests || (status === 0 ? 0 : Math.max(1, numFailedTestSuites));
  const slowest = testResults
    .flatMap(({ name, assertionResults }) =>
      assertionResults.map(({ title, duration }) => ({
        file: path.relative(ROOT, name),
        title,
        duration: duration ?? 0,
      })),
    )
    .sort((a, b) => b.duration - a.duration)
    .slice(0, SLOWEST);
  console.log(
    `\nThe slowest ${SLOWEST}:\n${slowest.map(({ file, title, duration }) => `${seconds(duration).padStart(7)}  ${file}: ${title}`).join('\n')}`,
  );
  console.log(
    `\nStages:\n${stages()
      .map(({ name, ms }) => `${seconds(ms).padStart(7)}  ${name}`)
      .join('\n')}`,
  );
  console.log(
    `\n${numPassedTests} passed, ${failed} failed${numPendingTests > 0 ? `, ${numPendingTests} left out` : ''}`,
  );
  process.exit(failed > 0 || numPassedTests === 0 ? 1 : 0);
}

const seconds = (ms) => `${(ms / 1000).toFixed(1)} s`;

/**
 * Does the steps of a command one after the other, each named and timed; the last is told how long those before it
 * took.
 */
async function inStages(steps) {
  const started = Date.now();
  const stages = [];
  for (const [name, step] of Object.entries(steps)) {
    const begun = Date.now();
    await step(() => [...stages, { name, ms: Date.now() - begun }, { name: 'in all', ms: Date.now() - started }]);
    stages.push({ name, ms: Date.now() - begun });
  }
}

const packages = installPackages;
const commands = {
  demo: { packages, 'demo data': makeDemo, build, serve: () => serve(true, process.argv.slice(3)) },
  start: { packages, build, serve: () => serve(false, process.argv.slice(3)) },
  check: { packages, check },
  test: {
    packages,
    programs: installPrograms,
    'test pictures': fetchCorpora,
    'demo data': makeDemo,
    check,
    build,
    tests: test,
  },
};

const command = commands[process.argv[2]];
if (!command) {
  console.error('Usage: node tools/setup/run.mjs demo | start [--drive FOLDER …] [--port NUMBER] | test | check');
  process.exit(1);
}
await inStages(command);
