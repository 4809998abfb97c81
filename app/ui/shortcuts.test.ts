import { describe, expect, it } from 'vitest';
import { isPressed, keysShown, register, shortcuts } from './shortcuts';

const press = (key: string, more: Partial<KeyboardEvent> = {}) => ({
  key,
  ctrlKey: false,
  metaKey: false,
  shiftKey: false,
  altKey: false,
  ...more,
});

describe('shortcuts', () => {
  it('bound twice on one screen are an error', () => {
    const one = { keys: ['t'], scope: 'everywhere', does: 'one' } as const;
    expect(() => register({ one, other: { keys: ['t'], scope: 'arrange', does: 'other' } })).toThrow(
      /“t” is bound twice: one and other/,
    );
    expect(() => register({ one, any: { keys: ['letter'], scope: 'apply', does: 'any' } })).toThrow(/twice/);
    // two screens, or two things in focus, are never in each other's way
    expect(() =>
      register({
        one: { ...one, scope: ['gather', 'check'] },
        other: { ...one, scope: 'apply' },
        third: { ...one, scope: 'focus' },
      }),
    ).not.toThrow();
  });

  it('depend on the modifier keys, on either kind of keyboard', () => {
    expect(isPressed('undo', press('z', { ctrlKey: true }))).toBe(true);
    expect(isPressed('undo', press('z', { metaKey: true }))).toBe(true);
    expect(isPressed('undo', press('Z', { metaKey: true, shiftKey: true }))).toBe(false);
    expect(isPressed('redo', press('Z', { metaKey: true, shiftKey: true }))).toBe(true);
    expect(isPressed('undo', press('z'))).toBe(false);
    expect(isPressed('nearest', press('n', { ctrlKey: true }))).toBe(false);
    expect(isPressed('nearest', press('N', { shiftKey: true }))).toBe(true);
    // on many keyboards it needs Shift
    expect(isPressed('help', press('?', { shiftKey: true }))).toBe(true);
    expect(isPressed('find', press('/', { shiftKey: true }))).toBe(true);
    const altGr = { ctrlKey: true, altKey: true, getModifierState: (key: string) => key === 'AltGraph' };
    expect(isPressed('begin', press('#', altGr))).toBe(true);
  });

  it('can mean any digit, or any letter of any alphabet', () => {
    expect(isPressed('number', press('7'))).toBe(true);
    expect(isPressed('number', press('F7'))).toBe(false);
    expect(isPressed('begin', press('ع'))).toBe(true);
    expect(isPressed('begin', press('Enter'))).toBe(false);
  });

  it('are written out for readers', () => {
    expect(Object.values(shortcuts).slice(0, 3).map(keysShown)).toEqual([
      'Arrow keys',
      'Space, Shift or Ctrl with a click',
      'Ctrl or Cmd + A',
    ]);
    expect([shortcuts.redo, shortcuts.renameTake, shortcuts.nearest, shortcuts.find].map(keysShown)).toEqual([
      'Ctrl or Cmd + Shift + Z',
      'F2',
      'N',
      '/',
    ]);
  });
});
