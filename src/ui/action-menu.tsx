'use client';

import { Dropdown, type DropdownProps } from 'antd';
import { useRef, type ReactNode } from 'react';
import { focusUnlessTaken } from './use-focus-back';

/** A menu of actions under its button: arrows walk it, and the button has the focus again once it is closed. */
export function ActionMenu({
  items,
  open,
  onOpenChange,
  children,
}: {
  items: NonNullable<DropdownProps['menu']>['items'];
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
  children: ReactNode;
}) {
  const button = useRef<Element | null>(null);
  return (
    <Dropdown
      trigger={['click']}
      autoFocus
      menu={{
        items,
        // Enter opens a dialog here, and would press the dialog's first button too.
        onClick: ({ domEvent }) => domEvent.preventDefault(),
      }}
      {...(open === undefined ? {} : { open })}
      onOpenChange={(now) => {
        if (now) button.current = document.activeElement;
        else focusUnlessTaken(button.current);
        onOpenChange?.(now);
      }}
    >
      {children}
    </Dropdown>
  );
}
