declare module 'less' {
  const less: { render(source: string): Promise<{ css: string }> };
  export default less;
}
