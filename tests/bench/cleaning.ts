import { SaxesParser } from 'saxes';
import { cleanArtwork } from '../../core/artwork/clean.ts';

// npm run bench -- cleaning [MEGABYTES]: drawings that are crafted to never finish, at half and at full size, beside the parser alone.

const S = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"';

type Shape = [name: string, unit: string, before: string, after: string];
const SHAPES: Shape[] = [
  ['blanks after url(', ' ', `${S}><rect fill="url(`, '"/></svg>'],
  ['blanks after url( in a sheet', ' ', `${S}><style>a{fill:url(`, '}</style></svg>'],
  ['url( again and again', 'url(', `${S}><style>a{fill:`, '}</style></svg>'],
  ['quotes', '"', `${S}><style>a{fill:url(`, '}</style></svg>'],
  ['@import without end', '@import ', `${S}><style>`, '</style></svg>'],
  ['@import rules', '@import "x";', `${S}><style>`, '</style></svg>'],
  ['backslashes', '\\', `${S}><style>a{fill:`, '}</style></svg>'],
  ['escapes', '\\75 ', `${S}><style>a{fill:`, '}</style></svg>'],
  ['openings of remarks', '/*', `${S}><style>`, '</style></svg>'],
  ['braces', '{', `${S}><style>`, '</style></svg>'],
  ['closing braces', '}', `${S}><style>@import`, '</style></svg>'],
  ['brackets', '(', `${S}><style>a{fill:`, '}</style></svg>'],
  ['behaviours', 'behavior:url(x);', `${S}><style>a{`, '}</style></svg>'],
  ['rules that reach out', 'a{fill:url(//x)}', `${S}><style>`, '</style></svg>'],
  ['declarations that reach out', 'fill:url(//x);', `${S}><rect style="`, '"/></svg>'],
  ['semicolons', ';', `${S}><rect style="a:url(x)`, '"/></svg>'],
  ['image-set', 'image-set(', `${S}><rect style="fill:`, '"/></svg>'],
  ['CDO', '&lt;!--', `${S}><style>`, '</style></svg>'],
  ['scripts', '<script>a</script>', `${S}>`, '</svg>'],
  ['events', '<g onclick="a"/>', `${S}>`, '</svg>'],
  ['instructions', '<?a b?>', `${S}>`, '</svg>'],
  ['instructions before the root', '<?a b?>', '', `${S}/>`],
  ['remarks before the root', '<!---->', '', `<!DOCTYPE svg [<!ENTITY a "b">]>${S}/>`],
  ['remarks', '<!-- url( -->', `${S}>`, '</svg>'],
  ['sections', '<![CDATA[a]]>', `${S}><style>@import`, '</style></svg>'],
  ['one section', ']', `${S}><style><![CDATA[@import `, ' ]]></style></svg>'],
  ['entities that are used', '&a;', `<!DOCTYPE svg [<!ENTITY a "">]>${S}><text>`, '</text></svg>'],
  ['entities that are declared', '<!ENTITY a "b">', '<!DOCTYPE svg [', `]>${S}/>`],
  ['quotes in a document type', '"', '<!DOCTYPE svg [<!-- ', ` -->]>${S}/>`],
  ['references to characters', '&#106;', `${S}><a href="`, '"/></svg>'],
  ['a link of blanks', ' ', `${S}><a href="#a`, 'b"/></svg>'],
  ['a picture of blanks', ' ', `${S}><image href="data:image/png;base64,a`, '!"/></svg>'],
  ['a picture', 'iVBORw0KGgoA', `${S}><image href="data:image/png;base64,iVBORw0KGgoA`, '"/></svg>'],
  ['foreign objects', '<foreignObject/>', `${S}>`, '</svg>'],
  ['attributes nobody knows', '<g zz="a"/>', `${S}>`, '</svg>'],
  ['namespaces', '<g xmlns:a="b"/>', `${S}>`, '</svg>'],
  ['blanks in a tag', ' ', `${S}><g`, 'onclick="a"/></svg>'],
  ['groups', '<g>', `${S}>`, ''],
  [
    'shapes',
    '<rect width="1" height="2" fill="url(#a)" transform="translate(1 2)" style="fill:red"/>',
    `${S}>`,
    '</svg>',
  ],
  ['an outline', 'L1 1', `${S}><path d="M0 0`, '"/></svg>'],
];

const drawing = ([, unit, before, after]: Shape, size: number) =>
  before + unit.repeat(Math.max(1, Math.floor((size - before.length - after.length) / unit.length))) + after;

/** Processor time, ms. */
function timed(run: () => void): number {
  const start = process.cpuUsage();
  try {
    run();
  } catch {
    // refused with a reason
  }
  const { user, system } = process.cpuUsage(start);
  return (user + system) / 1000;
}

export function benchCleaning(megabytes = 20): void {
  const size = megabytes * 1024 * 1024;
  console.log(
    `${'drawing'.padEnd(34)}  half    full   ratio  parser alone (ms of processor time, ${megabytes} MB)`,
  );
  for (const shape of SHAPES) {
    const [half, full] = [size / 2, size].map((bytes) => {
      const text = drawing(shape, bytes);
      return timed(() => cleanArtwork(text));
    });
    const text = drawing(shape, size);
    const parser = timed(() => {
      const saxes = new SaxesParser();
      saxes.on('error', (error) => {
        throw error;
      });
      saxes.write(text).close();
    });
    const figures = [half!, full!].map((ms) => ms.toFixed(0).padStart(6)).join('  ');
    console.log(
      `${shape[0].padEnd(34)}${figures}  ${(full! / Math.max(half!, 20)).toFixed(1).padStart(5)}  ${parser.toFixed(0).padStart(6)}`,
    );
  }
}
