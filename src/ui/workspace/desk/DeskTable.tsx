'use client';

import { type ComponentProps, useMemo } from 'react';
import { asDraft } from '@/core/sheet';
import { Table } from '../table/Table';
import { useDesk } from './desk';

/** The table; while a hand holds a value, it shows what that comes to. */
export function DeskTable({ sheet, ...props }: Omit<ComponentProps<typeof Table>, 'grip'>) {
  const grip = useDesk((desk) => desk.grip);
  const held = useDesk((desk) => desk.held);
  const shown = useMemo(() => {
    try {
      return held ? asDraft(held(sheet)) : sheet;
    } catch {
      // A value that the sheet refuses: the field says why when the hand lets go.
      return sheet;
    }
  }, [held, sheet]);
  return <Table {...props} sheet={shown} grip={grip} />;
}
