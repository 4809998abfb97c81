// What a drawing may hold. The names are those of SVG 2 (its element and attribute indexes) with what SVG 1.1 had beside them and the
// text boxes of the drafts of SVG 1.2, from memory; what acts, and what brings other documents along, is not among them.

const words = (...lists: string[]) => new Set(lists.flatMap((list) => list.split(' ')));

export const SVG = 'http://www.w3.org/2000/svg';
export const XLINK = 'http://www.w3.org/1999/xlink';
export const XML = 'http://www.w3.org/XML/1998/namespace';
const RDF = 'http://www.w3.org/1999/02/22-rdf-syntax-ns#';

/** Whether what is in a namespace means nothing to whoever shows the drawing: the notes of programs, and metadata. */
export const isData = (namespace: string): boolean =>
  namespace !== '' && (namespace === RDF || !/^https?:\/\/www\.w3\.org\//i.test(namespace));

export const ANIMATIONS = words('animate animateColor animateMotion animateTransform set');

export const ELEMENTS = new Set([
  ...words(
    'svg g defs symbol use switch a view title desc metadata style',
    'path rect circle ellipse line polyline polygon image',
    'text tspan tref textPath altGlyph altGlyphDef altGlyphItem glyphRef',
    'flowRoot flowRegion flowRegionExclude flowDiv flowPara flowSpan flowLine flowTref',
    'linearGradient radialGradient stop pattern hatch hatchpath solidColor solidcolor',
    'meshgradient meshGradient meshrow meshRow meshpatch meshPatch',
    'clipPath mask marker filter color-profile mpath',
    'feBlend feColorMatrix feComponentTransfer feComposite feConvolveMatrix feDiffuseLighting feDisplacementMap',
    'feDistantLight feDropShadow feFlood feFuncA feFuncB feFuncG feFuncR feGaussianBlur feImage feMerge feMergeNode',
    'feMorphology feOffset fePointLight feSpecularLighting feSpotLight feTile feTurbulence',
    'font font-face font-face-name glyph missing-glyph hkern vkern',
  ),
  ...ANIMATIONS,
]);

/** What elements are painted and placed with; each is a property of CSS, too. */
export const PRESENTATION = words(
  'alignment-baseline baseline-shift clip clip-path clip-rule color color-interpolation color-interpolation-filters',
  'color-profile color-rendering cursor direction display dominant-baseline enable-background fill fill-opacity fill-rule',
  'filter flood-color flood-opacity font font-family font-feature-settings font-kerning font-size font-size-adjust',
  'font-stretch font-style font-variant font-variant-caps font-variant-east-asian font-variant-ligatures',
  'font-variant-numeric font-variant-position font-variation-settings font-weight glyph-orientation-horizontal',
  'glyph-orientation-vertical image-rendering inline-size isolation kerning letter-spacing lighting-color line-height',
  'marker marker-end marker-mid marker-start mask mask-type mix-blend-mode opacity overflow paint-order pointer-events',
  'shape-inside shape-margin shape-padding shape-rendering shape-subtract solid-color solid-opacity stop-color',
  'stop-opacity stroke stroke-dasharray stroke-dashoffset stroke-linecap stroke-linejoin stroke-miterlimit',
  'stroke-opacity stroke-width text-align text-anchor text-decoration text-decoration-color text-decoration-fill',
  'text-decoration-line text-decoration-stroke text-decoration-style text-indent text-orientation text-overflow',
  'text-rendering text-transform transform transform-box transform-origin unicode-bidi vector-effect visibility',
  'white-space word-spacing writing-mode',
);

/** Measures, numbers and words of elements of their own, all of which may be animated. */
const GEOMETRY = words(
  'amplitude azimuth baseFrequency bias cx cy d diffuseConstant divisor dx dy edgeMode elevation exponent fr fx fy',
  'gradientTransform gradientUnits height in in2 intercept k k1 k2 k3 k4 kernelMatrix kernelUnitLength lengthAdjust',
  'limitingConeAngle markerHeight markerUnits markerWidth maskContentUnits maskUnits method mode numOctaves offset',
  'operator order orient pathLength patternContentUnits patternTransform patternUnits points pointsAtX pointsAtY',
  'pointsAtZ preserveAlpha preserveAspectRatio primitiveUnits r radius refX refY result rotate rx ry scale seed side',
  'slope spacing specularConstant specularExponent spreadMethod startOffset stdDeviation stitchTiles surfaceScale',
  'tableValues targetX targetY textLength type values viewBox width x x1 x2 xChannelSelector y y1 y2 yChannelSelector z',
  'clipPathUnits filterUnits filterRes pitch hatchContentUnits hatchUnits',
);

/** Texts that say what something is, and are nothing to whoever shows it. */
export const TEXTS = words(
  'id class lang role tabindex version baseProfile systemLanguage requiredFeatures requiredExtensions media',
  'title name local rendering-intent focusable glyph-name unicode unicode-range u1 u2 g1 g2 arabic-form panose-1 string',
  'contentStyleType',
);

/** How animations go, and how fonts measure. */
const NUMBERS = words(
  'accumulate additive attributeName attributeType begin by calcMode dur end fill from keyPoints keySplines keyTimes max min',
  'origin path repeatCount repeatDur restart to',
  'accent-height advance alphabetic ascent bbox cap-height descent hanging horiz-adv-x horiz-origin-x horiz-origin-y',
  'ideographic mathematical orientation overline-position overline-thickness slope stemh stemv strikethrough-position',
  'strikethrough-thickness underline-position underline-thickness units-per-em v-alphabetic v-hanging v-ideographic',
  'v-mathematical vert-adv-y vert-origin-x vert-origin-y widths x-height',
  'zoomAndPan viewTarget glyphRef format externalResourcesRequired',
);

export const ATTRIBUTES = new Set([...PRESENTATION, ...GEOMETRY, ...TEXTS, ...NUMBERS, 'style', 'href']);

/** What an animation may change. */
export const ANIMATABLE = new Set([...PRESENTATION, ...GEOMETRY]);

/** Those of XLink and XML that are kept. */
export const XLINK_ATTRIBUTES = words('href type title role arcrole show actuate');
export const XML_ATTRIBUTES = words('space lang id');

/** Functions of CSS that need nothing from elsewhere, in values, selectors and conditions. */
export const FUNCTIONS = words(
  'rgb rgba hsl hsla hwb lab lch oklab oklch color color-mix device-cmyk icc-color icc-named-color light-dark',
  'calc min max clamp round mod rem abs sign sin cos tan asin acos atan atan2 pow sqrt hypot log exp var attr',
  'matrix matrix3d translate translatex translatey translatez translate3d scale scalex scaley scalez scale3d',
  'rotate rotatex rotatey rotatez rotate3d skew skewx skewy perspective',
  'blur brightness contrast drop-shadow grayscale hue-rotate invert opacity saturate sepia',
  'inset circle ellipse polygon path rect xywh shape ray steps cubic-bezier linear counter counters',
  'linear-gradient radial-gradient conic-gradient repeating-linear-gradient repeating-radial-gradient',
  'local format tech stylistic styleset character-variant swash ornaments annotation',
  'not is where has nth-child nth-last-child nth-of-type nth-last-of-type lang dir host minmax repeat fit-content',
);

export const AT_RULES = words(
  'media supports font-face keyframes -webkit-keyframes page layer container property counter-style charset namespace',
  'font-feature-values font-palette-values color-profile',
);
