/** What reads on a colour of this L*: at the limit black and white have the same contrast. */
export const onLightness = (lightness: number) => (lightness >= 49.6 ? '#000000' : '#ffffff');
