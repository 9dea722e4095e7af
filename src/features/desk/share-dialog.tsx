'use client';

import { useFocusBack } from '@/ui/use-focus-back';
import { Button, Input, Modal } from 'antd';
import { useMemo, useState } from 'react';
import { exportDesign } from '@/store/exports/exports';
import { useDesign } from '@/store/document';
import { shareLink } from '@/store/share-link';
import { setView } from '@/store/view';

/** The design as a link that carries it whole. */
export function ShareDialog() {
  const design = useDesign((d) => d);
  const link = useMemo(() => shareLink(design, window.location.origin), [design]);
  useFocusBack();
  const [copied, setCopied] = useState<'yes' | 'no' | null>(null);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(link.url);
      setCopied('yes');
    } catch {
      setCopied('no');
    }
  };
  return (
    <Modal open title="Share by a link" footer={null} width={560} onCancel={() => setView({ sharing: false })}>
      <p>
        The whole design is in the link itself: whoever opens it sees drawing, curve, values and parts, and can keep a
        copy. Nothing is sent to a server.
      </p>
      {link.tooLong ? (
        <p className="failure" role="alert">
          This design is too large for a link ({link.url.length} letters): programs that pass it on may cut it. Send the
          file instead. <Button onClick={exportDesign}>Export the design</Button>
        </p>
      ) : (
        <>
          <Input.TextArea
            readOnly
            autoSize={{ minRows: 3, maxRows: 6 }}
            aria-label="Link to this design"
            data-testid="share-link"
            value={link.url}
            onFocus={(e) => e.target.select()}
          />
          <p className="share-row">
            <Button type="primary" onClick={() => void copy()}>
              Copy the link
            </Button>{' '}
            <span role="status">
              {copied === 'yes' && 'Copied.'}
              {copied === 'no' && 'The browser did not let it be copied: select the link and copy it by hand.'}
            </span>
          </p>
          {link.leftOut && <p className="quiet">Measurements and log are too long for a link and stay here.</p>}
        </>
      )}
    </Modal>
  );
}
