// Sizes of paper in mm: ISO 216, and the inches of letter and tabloid (ANSI/ASME Y14.1).
export const PAGE_SIZES = {
  a5: { label: 'A5', width: 148, height: 210 },
  a4: { label: 'A4', width: 210, height: 297 },
  a3: { label: 'A3', width: 297, height: 420 },
  a2: { label: 'A2', width: 420, height: 594 },
  letter: { label: 'Letter', width: 215.9, height: 279.4 },
  tabloid: { label: 'Tabloid', width: 279.4, height: 431.8 },
  square: { label: 'Square', width: 210, height: 210 },
  // 1,920 by 1,080 pixels at 144 to an inch
  screen: { label: 'Screen 16:9', width: 190.5, height: 338.67 },
} as const;
export type PageSizeId = keyof typeof PAGE_SIZES;
export const pageSizeIds = Object.keys(PAGE_SIZES) as PageSizeId[];

/** The least and the most that a side has, mm. */
export const MIN_SIDE = 60;
export const MAX_SIDE = 2000;
export const MAX_MARGIN = 60;

/** A page of a board. Sides of its own stand in place of a known size. */
export interface PageSetting {
  size: PageSizeId | 'custom';
  landscape: boolean;
  /** Of a custom size, mm, upright or not. */
  width?: number;
  height?: number;
  /** On every side, mm. */
  margin: number;
}

/** The sides of a page, mm. */
export function sidesOf({ size, landscape, width = 210, height = 297 }: PageSetting): {
  width: number;
  height: number;
} {
  const sides = size === 'custom' ? { width, height } : PAGE_SIZES[size];
  const [short, long] = [Math.min(sides.width, sides.height), Math.max(sides.width, sides.height)];
  return landscape ? { width: long, height: short } : { width: short, height: long };
}

/** What a page is called. */
export const pageText = (page: PageSetting): string => {
  const { width, height } = sidesOf(page);
  const name = page.size === 'custom' ? `${width} × ${height} mm` : PAGE_SIZES[page.size].label;
  return width === height ? name : `${name} ${page.landscape ? 'landscape' : 'portrait'}`;
};
