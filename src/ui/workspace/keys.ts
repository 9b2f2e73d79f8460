'use client';

import { useHotkeys } from 'react-hotkeys-hook';

/** One thing that a key does. */
export interface KeyAction {
  /** Keys or combinations with `mod` and `shift`, such as `mod+z` or `shift+1`; any of them does it. */
  readonly keys: readonly string[];
  /** As the list of keys shows them. */
  readonly shown: string;
  readonly does: string;
  readonly act: (event: KeyboardEvent) => void;
  /** Called when the key is let go. */
  readonly letGo?: () => void;
}

/** Tags and roles that the package takes for fields, though nobody types in some of them: whoever clicked on one goes on with keys. */
const FIELDS = ['input', 'radio', 'slider'] as const;

/** Whether a key that is pressed belongs to what has the focus. */
function isTyping({ target, key, ctrlKey, metaKey }: KeyboardEvent): boolean {
  if (!(target instanceof HTMLInputElement)) return false;
  if (target.type === 'range') return !ctrlKey && !metaKey;
  return !(['checkbox', 'radio'].includes(target.type) && key !== ' ');
}

/** Sets the keys of a page. They rest while somebody types. */
export function useKeys(actions: readonly KeyAction[]): void {
  const find = (event: KeyboardEvent) => {
    // With shift a digit's key is another character on each keyboard.
    const digit = event.shiftKey ? (/^Digit(\d)$/.exec(event.code)?.[1] ?? null) : null;
    const own =
      event.key.length === 1 ? event.key.toLowerCase() : event.key.toLowerCase().replace('arrow', '');
    const command = event.ctrlKey || event.metaKey;
    return actions.find((action) =>
      action.keys.some((combination) => {
        // The plus that joins keys is followed by one; a plus by itself is a key.
        const parts = combination.split(/\+(?=.)/);
        const wantsCommand = parts.includes('mod');
        const wantsShift = parts.includes('shift');
        const main = parts.at(-1)!;
        if (wantsCommand !== command) return false;
        if (wantsShift && !wantsCommand) return digit === main;
        return main === own && (!wantsCommand || wantsShift === event.shiftKey);
      }),
    );
  };
  useHotkeys(
    '*',
    (event) => {
      if (event.altKey || isTyping(event)) return;
      const action = find(event);
      if (!action || (action.letGo && event.repeat)) return;
      event.preventDefault();
      action.act(event);
    },
    { enableOnFormTags: FIELDS },
    [actions],
  );
  useHotkeys(
    '*',
    (event) => {
      if (!isTyping(event)) find(event)?.letGo?.();
    },
    { keyup: true, keydown: false, enableOnFormTags: FIELDS },
    [actions],
  );
}
