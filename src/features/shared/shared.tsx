'use client';

import { Button } from 'antd';
import { useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { reportBody, type Report } from '@/core/format/report-html';
import { newId } from '@/store/new-id';
import { readShared } from '@/store/share-link';
import { useShelve } from '@/ui/use-shelve';
import { failureWords } from '@/ui/words/failures';
import { startJob } from '@/workers/job-client';

const onHash = (changed: () => void) => {
  window.addEventListener('hashchange', changed);
  return () => window.removeEventListener('hashchange', changed);
};

/** A design that came in a link: shown as it stands, kept only when that is asked for. */
export function Shared() {
  const hash = useSyncExternalStore(onHash, () => window.location.hash);
  const read = useMemo(() => readShared(hash), [hash]);
  const design = read.ok ? read.value : null;
  const [report, setReport] = useState<Report | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const shelve = useShelve();
  useEffect(() => {
    if (!design) return;
    const job = startJob<'report'>({ kind: 'report', design, variantId: design.currentVariant });
    void job.answer.then((answer) => {
      if (answer.ok) setReport(answer.value);
      else if (answer.code !== 'cancelled') setFailed(failureWords(answer));
    });
    return () => job.cancel();
  }, [design]);
  return (
    <>
      {design ? (
        <>
          <div className="shelf-bar">
            <p className="quiet">
              This is read from the link itself, in this browser only. To change it, keep a copy on your shelf.
            </p>
            <span className="shelf-actions">
              <Button
                type="primary"
                // A copy of one's own, beside whatever lies on this shelf.
                onClick={() => shelve(() => ({ ...design, id: newId() }))}
              >
                Keep a copy
              </Button>
            </span>
          </div>
          {failed && (
            <p className="failure" role="alert">
              {failed}
            </p>
          )}
          {report ? (
            <article
              className="report report-page"
              data-testid="report"
              // Every text in it is escaped where it is made.
              dangerouslySetInnerHTML={{ __html: reportBody(report) }}
            />
          ) : (
            !failed && (
              <p className="quiet" role="status">
                Working out “{design.title}” …
              </p>
            )
          )}
        </>
      ) : (
        <>
          <h1>Nothing to show</h1>
          <p className="failure" role="alert">
            {read.ok ? '' : failureWords(read)}
          </p>
        </>
      )}
    </>
  );
}
