import { css } from '#core/formats/css/css';
import type { PlainFormat } from '#core/formats/format';
import { ggr } from '#core/formats/ggr/ggr';
import { strip } from '#core/formats/strip/strip';
import { svg } from '#core/formats/svg/svg';
import { tokens } from '#core/formats/tokens/tokens';

/** What a gradient goes out as by itself. */
export const gradientFormats: readonly PlainFormat[] = [css, svg, ggr, tokens, strip];
