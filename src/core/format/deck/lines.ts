/** One card of a deck with the number of the line it began on. */
export interface Card {
  readonly line: number;
  readonly text: string;
}

/** Joins continuation lines, drops comments and the title (the first line). Stops at `.end`. */
export function cardsOf(text: string): { title: string; cards: Card[] } {
  const lines = text.replace(/^﻿/, '').split(/\r\n|\r|\n/);
  const cards: { line: number; text: string }[] = [];
  for (let i = 1; i < lines.length; i++) {
    const line = lines[i].replace(/;.*$/, '').trim();
    if (line === '' || line.startsWith('*')) continue;
    if (/^\.end$/i.test(line)) break;
    if (line.startsWith('+') && cards.length > 0) cards[cards.length - 1].text += ` ${line.slice(1).trim()}`;
    else cards.push({ line: i + 1, text: line });
  }
  return { title: lines[0]?.trim() ?? '', cards };
}

/** Splits a card into fields: blanks and commas separate, `=` joins its sides, braces and parentheses hold together. */
export function fieldsOf(text: string): string[] {
  const fields: string[] = [];
  let depth = 0;
  let field = '';
  for (const letter of text
    .replace(/\s+/g, ' ')
    .replace(/ ?= ?/g, '=')
    .replace(/ \(/g, (m, at: number, all: string) =>
      /\b(?:sin|pulse|pwl|v|i)$/i.test(all.slice(Math.max(0, at - 6), at)) ? '(' : m,
    )) {
    if (letter === '{' || letter === '(') depth++;
    if (letter === '}' || letter === ')') depth--;
    if (depth <= 0 && /[\s,]/.test(letter)) {
      if (field !== '') fields.push(field);
      field = '';
    } else field += letter;
  }
  if (field !== '') fields.push(field);
  return fields;
}
