import katex from 'katex';
import { useMemo } from 'react';

/** A formula, typeset; read aloud from its MathML. */
export function Formula({ tex }: { tex: string }) {
  const html = useMemo(
    () =>
      katex.renderToString(`\\displaystyle ${tex}`, { output: 'htmlAndMathml', throwOnError: false, strict: false }),
    [tex],
  );
  return <span className="formula" dangerouslySetInnerHTML={{ __html: html }} />;
}
