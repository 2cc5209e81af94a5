// A name inside a sentence: one in a script that is written from right to left keeps to itself, and the words around it stay in
// their order (Unicode Standard Annex 9, 2.4: first strong isolate).

const rightToLeft =
  /[\p{Script=Hebrew}\p{Script=Arabic}\p{Script=Syriac}\p{Script=Thaana}\p{Script=Nko}\p{Script=Adlam}]/u

/** For text that has no markup of its own; in HTML it is a `<bdi>`. Names that turn nothing around stay as they are. */
export const isolate = (name: string): string => (rightToLeft.test(name) ? `\u2068${name}\u2069` : name)
