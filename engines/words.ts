import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import ts from 'typescript';

/** A string that a person may read, and where it is written. */
export interface Said {
  readonly file: string;
  readonly text: string;
}

/** Left out: what only a program reads. */
const NOT_READ = /^(?:[a-z0-9@/._-]+|\/.*|.*[{;]\s*$)$/;

const filesIn = (folder: string): string[] =>
  readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (name === 'node_modules' || name === 'dist' || name === 'golden') return [];
    if (statSync(path).isDirectory()) return filesIn(path);
    return /\.tsx?$/.test(name) && !/\.test\.tsx?$/.test(name) ? [path] : [];
  });

/** Every string of these folders that the interface can show: literals, the fixed parts of templates, and what stands between tags. */
export function everythingSaid(folders: readonly string[]): Said[] {
  return folders.flatMap(filesIn).flatMap((file) => {
    const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true);
    const said: Said[] = [];
    const collect = (text: string): void => {
      const plain = text.replace(/\s+/g, ' ').trim();
      if (/[A-Za-z]{2}/.test(plain) && !NOT_READ.test(plain)) said.push({ file, text: plain });
    };
    const visit = (node: ts.Node): void => {
      if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node) || ts.isTypeNode(node)) return;
      if (ts.isJsxText(node) || ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node))
        collect(node.text);
      else if (ts.isTemplateExpression(node))
        collect([node.head.text, ...node.templateSpans.map(({ literal }) => literal.text)].join('…'));
      ts.forEachChild(node, visit);
    };
    visit(source);
    return said;
  });
}

/** Retired words of the glossary, each with what is said instead. */
export function retiredWords(
  glossary: string,
): { readonly pattern: RegExp; readonly not: string; readonly but: string }[] {
  const table = glossary.slice(glossary.indexOf('## Retired words'));
  return [...table.matchAll(/^\| (.+?) \| (.+?) \|$/gm)]
    .map(([, not = '', but = '']) => ({ not, but }))
    .filter(({ not }) => not !== 'not')
    .map(({ not, but }) => {
      const given = /^\/(.*)\/$/.exec(not)?.[1];
      return { not, but, pattern: new RegExp(given ?? not.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'), 'i') };
    });
}
