import type { Options } from '../options.ts';

/** A format as one destination takes it. */
export interface Suited {
  format: string;
  /** Why it suits, in one sentence. */
  why: string;
  /** Taken unless the user says otherwise. */
  usual?: true;
  /** The destination needs one file for each group. */
  perGroup?: true;
  options?: Options;
}

/** A kind of work the colours go to. */
export interface Destination {
  id: string;
  name: string;
  /** Formats that suit it, the best first. */
  formats: Suited[];
  /** Where programs of the kind usually look for such files, for the note in the kit. */
  place: string;
}

/** Common practice of the trades, no source; no program in particular is meant. */
export const destinations: Destination[] = [
  {
    id: 'painting',
    name: 'Painting',
    formats: [
      {
        format: 'aco',
        why: 'Keeps names and print numbers; such programs list a file as one palette.',
        usual: true,
        perGroup: true,
      },
      {
        format: 'gpl',
        why: 'Plain text that most free programs read from their palette folder.',
        usual: true,
        perGroup: true,
      },
      { format: 'png', why: 'Chips to paste beside the work and pick from; any program shows it.' },
      { format: 'act', why: 'Colour table for indexed pictures and older programs.', perGroup: true },
      {
        format: 'jasc-pal',
        why: 'Text colour table that pixel and older painting programs load.',
        perGroup: true,
      },
      { format: 'hex', why: 'For programs that take pasted codes.' },
      {
        format: 'kpl',
        why: 'Zipped palette with groups, spot colours, CMYK and Lab, for free painting programs.',
      },
      { format: 'ggr', why: 'Gradients with midpoints and opacity, one to a file.', perGroup: true },
    ],
    place:
      'Load it in the palette or swatch panel, or put it into the program’s palettes folder inside your user folder.',
  },
  {
    id: 'drawing',
    name: 'Vector drawing',
    formats: [
      {
        format: 'ase',
        why: 'Exchange format. Keeps groups; older programs read one group per file.',
        usual: true,
      },
      { format: 'svg', why: 'Chips to open or place as a drawing and pick from.' },
      { format: 'gpl', why: 'Plain text that free drawing programs read.', perGroup: true },
      { format: 'soc', why: 'Named table of office and diagram programs.' },
      { format: 'riff-pal', why: 'Binary colour table of older drawing programs.', perGroup: true },
    ],
    place:
      'Load it from the menu of the swatch panel, or put it into the program’s swatches or palettes folder to find it in the list.',
  },
  {
    id: 'layout',
    name: 'Page layout',
    formats: [
      { format: 'ase', why: 'Exchange format. Keeps groups, spot colours and print numbers.', usual: true },
      { format: 'pdf', why: 'To place or open, with each spot colour on its own separation.', usual: true },
      { format: 'acb', why: 'Book of spot colours for the colour book folder.' },
      { format: 'csv', why: 'Table for scripts that make swatches.' },
      { format: 'office-theme', why: 'Colours of letters, tables and slides, with their names.' },
    ],
    place:
      'Load it from the menu of the swatch panel of an open document. A colour book goes into the program’s colour book or swatch library folder.',
  },
  {
    id: 'print',
    name: 'Print and spot',
    formats: [
      {
        format: 'cxf',
        why: 'Standard for spot colours between designer and printer; keeps measured spectra.',
        usual: true,
      },
      { format: 'pdf', why: 'Proof page whose separations show the inks by name.', usual: true },
      { format: 'acb', why: 'Book of spot colours.' },
      { format: 'icc-named', why: 'Named colour profile for workflows that look inks up by name.' },
      { format: 'cgats', why: 'Text table for measuring and profiling programs.' },
      { format: 'ase', why: 'For the printer’s own layout program.' },
    ],
    place:
      'Import it where the workflow keeps its spot colours or inks; the names in the artwork must be the same to the letter.',
  },
  {
    id: 'cutting',
    name: 'Cutting and engraving',
    formats: [
      {
        format: 'svg',
        why: 'In millimetres: arrives the same size at any resolution; every chip a separate shape.',
        usual: true,
      },
      { format: 'pdf', why: 'Technical separations under the exact names a machine looks for.', usual: true },
      { format: 'dxf', why: 'One layer per colour, named after it.' },
    ],
    place:
      'Import it as a drawing; the machine’s program assigns a job to each colour, layer or separation name.',
  },
  {
    id: '3d',
    name: '3D',
    formats: [
      { format: 'gltf', why: 'One material per colour, in linear light as renderers want it.', usual: true },
      { format: 'mtl', why: 'Material list that nearly every modelling program reads.', usual: true },
      { format: 'materialx', why: 'Materials for films and games, with their shaders.' },
      { format: 'usda', why: 'Materials of a scene, for programs that work on scenes together.' },
      { format: '3mf', why: 'Materials and colour groups for printing in three dimensions.' },
      { format: 'hex', why: 'For colour fields that take codes.' },
      { format: 'png', why: 'Palette texture: point faces at its chips.' },
      { format: 'strip', why: 'Gradients as ramp textures.' },
    ],
    place:
      'Import it like a model; the materials come in by name. A material list must lie beside the model that refers to it.',
  },
  {
    id: 'cad',
    name: 'CAD',
    formats: [
      {
        format: 'dxf',
        why: 'One layer per colour with true colour and nearest indexed colour.',
        usual: true,
      },
      { format: 'riff-pal', why: 'Binary colour table for viewers and plotters.', perGroup: true },
      { format: 'csv', why: 'Table for plot styles and scripts.' },
    ],
    place: 'Open or insert it as a drawing; its layers bring the colours along.',
  },
  {
    id: 'web',
    name: 'Web and interface',
    formats: [
      { format: 'css', why: 'Custom properties, ready to include.', usual: true },
      { format: 'tokens', why: 'Design tokens with groups, for token pipelines and plug-ins.', usual: true },
      { format: 'theme', why: 'Nested names and codes, as many design systems keep them.' },
      { format: 'resources', why: 'Named colours for mobile applications, as XML.' },
      {
        format: 'asset-catalogue',
        why: 'Named colours for applications, with Display P3, as a folder of sets.',
      },
      { format: 'scss', why: 'Variables for projects with a preprocessor.' },
      { format: 'less', why: 'Variables for projects with that preprocessor.' },
      { format: 'hex', why: 'Codes to paste anywhere.' },
    ],
    place: 'Add it to the project’s sources and import it before the sheets that use it.',
  },
  {
    id: 'textile',
    name: 'Textile',
    formats: [
      { format: 'ase', why: 'Exchange format with groups as colourways.', usual: true },
      { format: 'csv', why: 'Table with codes and notes for the dye house.', usual: true },
      { format: 'cxf', why: 'Measured colours and spectra for the laboratory.' },
      { format: 'act', why: 'Colour table for indexed repeats.', perGroup: true },
      { format: 'riff-pal', why: 'Colour table of weaving and knitting programs.', perGroup: true },
    ],
    place: 'Load it in the colour or palette window of the design program; send the table with the samples.',
  },
  {
    id: 'tablet',
    name: 'Tablet',
    formats: [
      {
        format: 'tablet',
        why: '30 places to a palette; larger groups come as numbered palettes.',
        usual: true,
      },
      { format: 'ase', why: 'Some tablet programs read it, with more than 30 colours.' },
      { format: 'png', why: 'Picture to import as a reference or a palette.' },
    ],
    place:
      'Send it to the tablet by cable, cloud folder or mail and open it there; choose the program in the share menu.',
  },
  {
    id: 'maps',
    name: 'Maps',
    formats: [
      {
        format: 'cpt',
        why: 'Scale of colours over values, one gradient to a file.',
        usual: true,
        perGroup: true,
      },
      { format: 'sld', why: 'Style of a raster layer, with opacity, for map servers.', perGroup: true },
    ],
    place: 'Choose it as the colour ramp of a layer, or upload it to the map server as a style.',
  },
  {
    id: 'archive',
    name: 'Archive',
    formats: [
      { format: 'papillon', why: 'Everything, lossless, to open again years later.', usual: true },
      { format: 'csv', why: 'Readable by any spreadsheet without Papillon.' },
      { format: 'xlsx', why: 'Workbook to look at in colour, a sheet for each group.' },
      { format: 'ods', why: 'The same as an open document.' },
      { format: 'pdf', why: 'To look at and to print.' },
    ],
    place: 'Keep it with the job. Papillon opens it again with everything in it.',
  },
];

/** @throws RangeError for an unknown destination */
export function destinationById(id: string): Destination {
  const found = destinations.find((d) => d.id === id);
  if (!found) throw new RangeError(`Unknown destination “${id}”.`);
  return found;
}
