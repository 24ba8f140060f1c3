/** Every key of the program, in one list: bound from here, and shown in the help. */
export const KEYS = {
  play: { keys: "space", label: "Play or pause" },
  before: { keys: "left", label: "One frame back" },
  after: { keys: "right", label: "One frame on" },
  tenBefore: { keys: "shift+left", label: "Ten frames back" },
  tenAfter: { keys: "shift+right", label: "Ten frames on" },
  first: { keys: "home", label: "First frame" },
  last: { keys: "end", label: "Last frame" },
  keyBefore: { keys: "bracketleft", label: "Previous key" },
  keyAfter: { keys: "bracketright", label: "Next key" },
  keyAll: {
    keys: "k",
    label: "Key all keyed values at the playhead, or the camera where its sheet is open",
  },
  copyKey: { keys: "mod+c", label: "Copy the chosen key, or the chosen step" },
  pasteKey: { keys: "mod+v", label: "Paste the key at the playhead, or the step below" },
  remove: { keys: "delete, backspace", label: "Remove the chosen key, or the chosen step" },
  undo: { keys: "mod+z", label: "Undo" },
  redo: { keys: "mod+shift+z", label: "Redo" },
  find: { keys: "mod+k", label: "Find anything" },
  help: { keys: "?", label: "List of keys" },
  use: { keys: "u", label: "Use or do not use the step" },
  solo: { keys: "o", label: "Only this step" },
  group: { keys: "g", label: "Put the chosen steps into a group" },
  fit: { keys: "digit0", label: "Fit in view" },
  four: { keys: "v", label: "One view, or four" },
  heat: { keys: "h", label: "Heat of the mask" },
  up: { keys: "up", label: "Step above" },
  down: { keys: "down", label: "Step below" },
  open: { keys: "enter", label: "Open or close the step" },
} as const;

const WRITTEN: Record<string, string> = {
  space: "Space",
  left: "←",
  right: "→",
  up: "↑",
  down: "↓",
  bracketleft: "[",
  bracketright: "]",
  digit0: "0",
  mod: "Ctrl",
  shift: "Shift",
};

/** A key as it is written on the keyboard. */
export function written(keys: string): string {
  return keys
    .split(", ")
    .map(
      (one) =>
        WRITTEN[one] ??
        one
          .split("+")
          .map((part) => WRITTEN[part] ?? part.charAt(0).toUpperCase() + part.slice(1))
          .join(" + "),
    )
    .join(" or ");
}
