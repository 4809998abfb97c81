// Comments that are not sent yet, for as long as the tab is open: they outlive a reload.

const keyOf = (of: string) => `papillon-draft-${of}`;

export function readDraft(of: string): string {
  try {
    return sessionStorage.getItem(keyOf(of)) ?? '';
  } catch {
    return '';
  }
}

export function keepDraft(of: string, text: string): void {
  try {
    if (text) sessionStorage.setItem(keyOf(of), text);
    else sessionStorage.removeItem(keyOf(of));
  } catch {
    // it stays in the field
  }
}
