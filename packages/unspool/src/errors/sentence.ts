/** A text as a sentence: with a capital letter at its start and a full stop at its end. Empty stays empty. */
function sentence(text: string): string {
  if (text === '') return '';
  const capital = text[0]!.toUpperCase() + text.slice(1);
  return /[.?!]$/.test(capital) ? capital : `${capital}.`;
}

/** Joins what is wrong and what to do on one line: `unknown clip "snpa". Did you mean "snap"?` */
export function withHint(message: string, hint: string): string {
  return hint === '' ? message : `${message}${/[.?!]$/.test(message) ? '' : '.'} ${sentence(hint)}`;
}
