import { networkInterfaces } from 'node:os';
import { describe, expect, it } from 'vitest';
import { isLoopback, nameOf, readSettings, SettingsError } from './settings.ts';

const PASSWORD = { PAPILLON_PASSWORD: 'a long way to Tipperary' };

describe('where the server may be reached', () => {
  it('is this machine alone unless a password is set', () => {
    for (const HOST of ['127.0.0.1', '127.3.2.1', 'localhost', '::1', '[::1]', ''])
      expect(readSettings({ HOST }).password).toBeNull();
    for (const HOST of ['0.0.0.0', '::', '192.168.1.4', 'studio.local', '127.0.0.1.example', '1.127.0.0'])
      for (const PAPILLON_PASSWORD of [undefined, ''])
        expect(() => readSettings({ HOST, PAPILLON_PASSWORD })).toThrow(SettingsError);
    expect(readSettings({ HOST: '0.0.0.0', ...PASSWORD }).host).toBe('0.0.0.0');
    expect(['127.1.2.3', ' LOCALHOST '].map(isLoopback)).toEqual([true, true]);
  });

  it('is under its own names and addresses, and those it is given', () => {
    expect([...readSettings({}).hosts].sort()).toEqual(['127.0.0.1', '[::1]', 'localhost']);
    expect(readSettings({ HOST: '192.168.1.4', ...PASSWORD }).hosts).toContain('192.168.1.4');
    const given = readSettings({ PAPILLON_HOSTS: 'Colours.example:8443, other.example' });
    expect([...given.hosts].slice(3)).toEqual(['colours.example', 'other.example']);
    expect([...given.pages]).toEqual(['colours.example:8443', 'other.example']);
    const everywhere = readSettings({ HOST: '::', ...PASSWORD }).hosts;
    for (const { address, family } of Object.values(networkInterfaces()).flatMap((list) => list ?? []))
      expect(everywhere).toContain(family === 'IPv6' ? `[${address}]` : address);
    // not whatever resolves to it
    expect(everywhere).not.toContain('0.0.0.0');
  });

  it('is distinguished from the port, whatever stands for it', () => {
    expect(['a.example:80', 'A.example.', '[::1]:3000', '[::1]', 'a.example:'].map(nameOf)).toEqual([
      'a.example',
      'a.example',
      '[::1]',
      '[::1]',
      'a.example',
    ]);
  });

  it('is refused where the port is none', () => {
    for (const PORT of ['x', '-1', '65536', '80.5'])
      expect(() => readSettings({ PORT })).toThrow(/PORT is “.*whole number/);
  });
});

it('trusts no proxy but those that are named by their addresses', () => {
  expect(readSettings({}).proxies).toEqual([]);
  expect(readSettings({ PAPILLON_PROXY: '127.0.0.1, 10.0.0.0/8,2001:db8::/32' }).proxies).toEqual([
    '127.0.0.1',
    '10.0.0.0/8',
    '2001:db8::/32',
  ]);
  for (const PAPILLON_PROXY of ['true', '1', 'proxy.example', '10.0.0.0/33', '127.0.0.1/x', '*'])
    expect(() => readSettings({ PAPILLON_PROXY })).toThrow(/PAPILLON_PROXY is .* must name addresses/);
});
