declare module 'ase-utils' {
  interface AseColor {
    name: string;
    model: string;
    type: 'global' | 'spot' | 'normal';
    color: number[];
  }
  const utils: {
    decode(bytes: Uint8Array): {
      version: string;
      colors: AseColor[];
      groups: { name: string; colors: AseColor[] }[];
    };
  };
  export default utils;
}
