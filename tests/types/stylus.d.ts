declare module 'stylus' {
  const stylus: { render(text: string): string };
  export default stylus;
}
