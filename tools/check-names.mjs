// One exported name, one meaning: fails where a name is declared and exported by more than one file of `src`.
// Usage: node tools/check-names.mjs

import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';

/** A page and a route of the framework must be called so. */
const OF_THE_FRAMEWORK = new Set(['Page', 'GET', 'POST', 'generateStaticParams', 'metadata', 'dynamic', 'runtime']);
const filesIn = (folder) =>
  readdirSync(folder, { withFileTypes: true }).flatMap((entry) =>
    entry.isDirectory() ? filesIn(path.join(folder, entry.name)) : [path.join(folder, entry.name)],
  );

/** The names a file declares and exports itself. */
function exportedBy(file) {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true);
  const isExported = (node) =>
    (ts.canHaveModifiers(node) ? ts.getModifiers(node) : [])?.some(({ kind }) => kind === ts.SyntaxKind.ExportKeyword);
  const names = new Set();
  for (const node of source.statements) {
    if (!isExported(node)) continue;
    if (ts.isVariableStatement(node))
      for (const { name } of node.declarationList.declarations) if (ts.isIdentifier(name)) names.add(name.text);
    if (!ts.isVariableStatement(node) && node.name) names.add(node.name.text);
  }
  return names;
}

const homes = new Map();
for (const file of filesIn('src').filter((name) => /\.tsx?$/.test(name) && !/\.(test|d)\.tsx?$/.test(name)))
  for (const name of exportedBy(file)) homes.set(name, [...(homes.get(name) ?? []), file]);
const twice = [...homes].filter(([name, files]) => files.length > 1 && !OF_THE_FRAMEWORK.has(name)).sort();
for (const [name, files] of twice) console.error(`${name} has two meanings: ${files.join(', ')}`);
if (twice.length > 0) process.exit(1);
console.log(`${homes.size} exported names, each with one meaning`);
