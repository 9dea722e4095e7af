/** The part of papaparse that the core uses, without the Node types its own declarations bring along. */
declare const Papa: {
  unparse(
    table: { fields: string[]; data: string[][] },
    options?: { newline?: string; escapeFormulae?: RegExp },
  ): string;
  parse<Row>(text: string, options?: { skipEmptyLines?: boolean; preview?: number }): { data: Row[] };
};
export default Papa;
