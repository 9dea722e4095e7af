import { useState, type DragEvent } from 'react';

/** What makes an element take files that are dropped on it, and whether some hang over it. */
export function useFileDrop(take: (files: readonly File[]) => void): {
  readonly over: boolean;
  readonly handlers: Record<'onDragOver' | 'onDragLeave' | 'onDrop', (event: DragEvent) => void>;
} {
  const [over, setOver] = useState(false);
  const hasFiles = (event: DragEvent) => event.dataTransfer.types.includes('Files');
  return {
    over,
    handlers: {
      onDragOver: (event) => {
        if (!hasFiles(event)) return;
        event.preventDefault();
        setOver(true);
      },
      onDragLeave: (event) => {
        if (!event.currentTarget.contains(event.relatedTarget as Node | null)) setOver(false);
      },
      onDrop: (event) => {
        if (!hasFiles(event)) return;
        event.preventDefault();
        setOver(false);
        take([...event.dataTransfer.files]);
      },
    },
  };
}
