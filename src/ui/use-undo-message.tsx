import { App, Button } from 'antd';
import { newId } from '@/store/new-id';

/** s that what was done can be taken back from its message. */
const SHOWN_S = 8;

/** Says what was done, with a button that takes it back. */
export function useUndoMessage(): (words: string, undo: () => void) => void {
  const { message } = App.useApp();
  return (words, undo) => {
    const key = newId();
    const takeBack = () => {
      undo();
      message.destroy(key);
    };
    const content = (
      <span>
        {words}{' '}
        <Button size="small" type="link" onClick={takeBack}>
          Undo
        </Button>
      </span>
    );
    void message.open({ key, type: 'info', duration: SHOWN_S, content });
  };
}
