import { fireEvent, render, type RenderResult } from '@testing-library/react';
import { App } from 'antd';
import type { ReactNode } from 'react';
import type { Design } from '@/core/design/document/schema';
import type { DeskRequest } from '@/core/jobs/desk/desk-types';
import { deskOf } from '@/core/testing/desk-of';
import { documentStore, openDesign } from '@/store/document';
import { DESK } from '@/store/questions/live';
import { resetView } from '@/store/view';

/** Puts a design on the desk with what the desk says of it, and shows a pane. */
export function showPane(design: Design, pane: ReactNode, asked: Partial<DeskRequest> = {}): RenderResult {
  openDesign(design);
  resetView();
  DESK.place(deskOf(design, asked));
  return render(<App>{pane}</App>);
}

/** Takes a change into the figures, as the worker would. */
export const refresh = (): void => DESK.place(deskOf(documentStore.getState().design!));

export const designNow = (): Design => documentStore.getState().design!;

/** Types a value and takes it. */
export function typed(field: HTMLElement, text: string): void {
  fireEvent.change(field, { target: { value: text } });
  fireEvent.keyDown(field, { key: 'Enter' });
}
