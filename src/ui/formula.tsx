import katex from 'katex';
import { useMemo } from 'react';
import styles from './formula.module.css';

/** A formula, typeset; read aloud from its MathML. */
export function Formula({ tex }: { tex: string }) {
  const html = useMemo(
    () =>
      katex.renderToString(`\\displaystyle ${tex}`, { output: 'htmlAndMathml', throwOnError: false, strict: false }),
    [tex],
  );
  return <span className={styles.formula} dangerouslySetInnerHTML={{ __html: html }} />;
}
