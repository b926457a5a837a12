/** The kinds of statement line that a person chooses from, with a word of one's own for "none of them". */
export function kindOptions(none: string): [string, string][] {
  const kinds = ["check", "deposit", "payment", "transfer", "card", "cash", "fee", "interest", "direct debit"];
  return [["", none], ...kinds.map((kind): [string, string] => [kind, kind])];
}
