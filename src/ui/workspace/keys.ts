'use client';

import { useHotkeys } from 'react-hotkeys-hook';

/** One thing that a key does. */
export interface KeyAction {
  /** As react-hotkeys-hook names keys. */
  readonly keys: string;
  /** As the list of keys shows them. */
  readonly shown: string;
  readonly does: string;
  readonly act: (event: KeyboardEvent) => void;
  /** Called when the key is let go. */
  readonly letGo?: () => void;
}

/** Roles that the package takes for fields, though nobody types in them: whoever clicked on one goes on with keys. */
const NOT_TYPING = ['radio', 'slider'] as const;

/** Sets the keys of a page. They rest while somebody types. */
export function useKeys(actions: readonly KeyAction[]): void {
  const find = (event: KeyboardEvent) => {
    const key =
      event.key.length === 1 ? event.key.toLowerCase() : event.key.toLowerCase().replace('arrow', '');
    const command = event.ctrlKey || event.metaKey;
    return actions.find((action) =>
      action.keys.split(',').some((combination) => {
        // The plus that joins keys is followed by one; a plus by itself is a key.
        const parts = combination.trim().split(/\+(?=.)/);
        const wantsCommand = parts.includes('mod');
        const wantsShift = parts.includes('shift');
        const main = parts.at(-1)!;
        return main === key && wantsCommand === command && (!wantsCommand || wantsShift === event.shiftKey);
      }),
    );
  };
  useHotkeys(
    '*',
    (event) => {
      if (event.altKey) return;
      const action = find(event);
      if (!action || (action.letGo && event.repeat)) return;
      event.preventDefault();
      action.act(event);
    },
    { enableOnFormTags: NOT_TYPING },
    [actions],
  );
  useHotkeys(
    '*',
    (event) => find(event)?.letGo?.(),
    { keyup: true, keydown: false, enableOnFormTags: NOT_TYPING },
    [actions],
  );
}
