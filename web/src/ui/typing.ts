const FIELDS = "input:not([type=checkbox]), textarea, select, [role=combobox], [role=slider], [contenteditable=true]";
const OPEN = "[role=dialog], [role=menu], [role=listbox]";

/** Whether a key belongs to a field, an open menu or a dialog, and so is no shortcut. */
export function isTyping(e: KeyboardEvent): boolean {
  return e.defaultPrevented || (e.target instanceof Element && e.target.closest(FIELDS) !== null) || document.querySelector(OPEN) !== null;
}
