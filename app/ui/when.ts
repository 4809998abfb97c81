/** When something changed, as short as it is clear: `today 09:12`, `yesterday`, `Friday`, `3 November`, `3 November 2025`. */
export function when(date: Date, now: Date): string {
  const day = (d: Date) => Math.floor((d.getTime() - d.getTimezoneOffset() * 60_000) / 86_400_000);
  const days = day(now) - day(date);
  const format = (options: Intl.DateTimeFormatOptions) =>
    new Intl.DateTimeFormat('en-GB', options).format(date);
  if (days <= 0) return `today ${format({ hour: '2-digit', minute: '2-digit' })}`;
  if (days === 1) return 'yesterday';
  if (days < 7) return format({ weekday: 'long' });
  return format({
    day: 'numeric',
    month: 'long',
    ...(date.getFullYear() === now.getFullYear() ? {} : { year: 'numeric' }),
  });
}
