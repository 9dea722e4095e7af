import { App, Button } from 'antd';
import { useCallback, useId } from 'react';
import type { Failure } from '@/core/result';
import { formatFixed } from '@/core/units/quantity';
import { readFile } from '@/workers/read-file';
import type { Read, ReaderName } from '@/workers/readers';
import { bytesWords } from './words/bytes';

/** So long a file is read without a word, ms. */
const WORDLESS_MS = 300;

/** Reads files that may be long: how far it is stands on the page, with a button that stops it. Null: stopped. */
export function useFileReading(): <K extends ReaderName>(
  reader: K,
  file: { readonly bytes: Uint8Array; readonly name: string },
) => Promise<Read<K> | Failure<'reading-lost'> | null> {
  const { message } = App.useApp();
  const key = useId();
  return useCallback(
    async (reader, file) => {
      const size = bytesWords(file.bytes.length);
      let share = 0;
      let said = false;
      const say = () => {
        said = true;
        const content = (
          <>
            Reading {file.name}, {size}: <span className="figures">{formatFixed(100 * share, 0)}&#8239;%</span>{' '}
            <Button size="small" onClick={reading.stop}>
              Stop reading
            </Button>
          </>
        );
        void message.open({ key, type: 'loading', content, duration: 0 });
      };
      const reading = readFile(reader, file, (now) => {
        const shown = Math.floor(100 * share);
        share = now;
        if (said && Math.floor(100 * now) > shown) say();
      });
      const timer = setTimeout(say, WORDLESS_MS);
      const answer = await reading.answer;
      clearTimeout(timer);
      said = false;
      message.destroy(key);
      return answer;
    },
    [message, key],
  );
}
