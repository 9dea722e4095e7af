'use client';

import { Alert, Button } from 'antd';
import { useEffect, useState } from 'react';

/** ms after a page is there: what is on it comes first. */
const SETTLED_MS = 3000;

/**
 * Keeps the application in the browser for when there is no network, and says when a newer one has come: it takes over
 * when its reader says so, never in the middle of work.
 */
export function Offline() {
  const [waiting, setWaiting] = useState<ServiceWorker | null>(null);
  useEffect(() => {
    if (process.env.NODE_ENV !== 'production' || !('serviceWorker' in navigator)) return;
    const timer = setTimeout(() => void register(setWaiting), SETTLED_MS);
    // Taken over in this tab or in another: there is nothing more to ask.
    const takenOver = () => setWaiting(null);
    navigator.serviceWorker.addEventListener('controllerchange', takenOver);
    return () => {
      clearTimeout(timer);
      navigator.serviceWorker.removeEventListener('controllerchange', takenOver);
    };
  }, []);
  if (!waiting) return null;
  const takeOver = () => {
    navigator.serviceWorker.addEventListener('controllerchange', () => window.location.reload(), { once: true });
    waiting.postMessage('take-over');
  };
  return (
    <Alert
      banner
      type="info"
      className="no-print"
      data-testid="new-version"
      title="A newer version has come. Your designs stay as they are."
      action={
        <Button size="small" onClick={takeOver}>
          Use it now
        </Button>
      }
    />
  );
}

async function register(onWaiting: (worker: ServiceWorker) => void): Promise<void> {
  try {
    const registration = await navigator.serviceWorker.register('/service-worker.js', { updateViaCache: 'none' });
    // One that waits while another is in charge is a newer version; the first of all simply stands ready.
    const look = () => {
      if (registration.waiting && navigator.serviceWorker.controller) onWaiting(registration.waiting);
    };
    look();
    registration.addEventListener('updatefound', () => registration.installing?.addEventListener('statechange', look));
  } catch {
    // A browser that refuses works as before, with a network.
  }
}
