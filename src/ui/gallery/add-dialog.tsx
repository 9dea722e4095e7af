'use client';

import { Button, Modal } from 'antd';
import { USUAL_BANK } from '@/core/design/making/bank';
import { edit } from '@/store/document';
import { makeBank } from '@/store/edits/bank-edits';
import { setView } from '@/store/view';
import { ADDABLE, addFromCatalogue } from '@/store/add-to-path';
import { FocusBack } from '@/ui/use-focus-back';
import { Gallery } from './gallery';
import styles from './gallery.module.css';

/** The gallery for a path that there is. */
export function AddDialog({ open, onClose, onDeck }: { open: boolean; onClose: () => void; onDeck: () => void }) {
  const bank = () => {
    edit(makeBank(USUAL_BANK));
    setView({ selectedStage: null, task: 'brief' });
    onClose();
  };
  return (
    <Modal
      open={open}
      onCancel={onClose}
      title="Add to the path"
      width={1000}
      destroyOnHidden
      className={styles.galleryDialog}
      footer={
        <>
          <Button onClick={onDeck}>Circuit of your own, from a deck</Button>
          <Button onClick={bank}>Filter bank instead of this path</Button>
        </>
      }
    >
      <FocusBack />
      <Gallery
        entries={ADDABLE}
        onChoose={(entry, response) => {
          onClose();
          addFromCatalogue(entry, response);
        }}
      />
    </Modal>
  );
}
