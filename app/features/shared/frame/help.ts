/** What a screen is for, and its commonest jobs, each as steps. */
export interface Help {
  title: string;
  about: string;
  jobs: readonly { title: string; steps: readonly string[] }[];
}

const HELP: Record<string, Help> = {
  home: {
    title: 'Libraries',
    about:
      'Every library as a band of its own colours, on shelves, in the archive or in the bin. Tick several to work on them at once.',
    jobs: [
      {
        title: 'Open colours',
        steps: [
          'Drop a swatch file, a drawing, a folder or a zip anywhere.',
          'Choose what becomes of it, and open it.',
        ],
      },
      {
        title: 'Take colours from a picture',
        steps: [
          'Drop or paste a picture.',
          'Choose how many colours you want.',
          'Put them in the tray, and place the tray.',
        ],
      },
      {
        title: 'Find a colour',
        steps: [
          'Type a name, a code, a role, “dark blue” or “close to #8a1c24”.',
          'Open a library that has it.',
        ],
      },
    ],
  },
  gather: {
    title: 'Gather',
    about:
      'Takes colours from pictures, harmony rules, books, codes, artwork and measurements. All of them go to the tray.',
    jobs: [
      {
        title: 'A palette from a picture',
        steps: [
          'Drop a picture, and set the number of colours.',
          'Hold colours that must stay; join look-alikes; leave out a region.',
          'Put the palette in the tray.',
        ],
      },
      {
        title: 'A harmony from one colour',
        steps: [
          'Open Harmony, and type or choose the base.',
          'Choose a rule; drag the members on the ribbon.',
          'Put them in the tray.',
        ],
      },
      {
        title: 'An ink from a book, or as it was measured',
        steps: [
          'Open Book, and type its number, its name or a colour; press Enter.',
          'Open Reading, and drop a measurement, or measure one.',
          'Place the tray in a library, or add the ink as a spot swatch.',
        ],
      },
    ],
  },
  arrange: {
    title: 'Arrange',
    about:
      'The library itself: order, groups, names, roles and gradients; T tunes what is chosen. Board shows colours on pages that lay themselves out.',
    jobs: [
      {
        title: 'Put swatches in order',
        steps: ['Choose some, or all.', 'Drag them, or sort them by lightness, hue or name.'],
      },
      {
        title: 'Name and give roles',
        steps: [
          'Choose a swatch and press Enter to rename it.',
          'Type its role, code and note in the panel beside it.',
        ],
      },
      {
        title: 'Show colours on a board',
        steps: [
          'Choose swatches, and Make… a board of them; or open Board.',
          'Choose a layout, and give each colour its weight.',
          'Present it, or take it as PDF, PNG or SVG.',
        ],
      },
    ],
  },
  apply: {
    title: 'Apply',
    about: 'Puts the library’s colours on a drawing, a PDF or a flat picture.',
    jobs: [
      {
        title: 'Recolour artwork',
        steps: [
          'Open a drawing or a PDF.',
          'Choose a colour of it, and type the swatch or number it becomes.',
          'Download the artwork.',
        ],
      },
      {
        title: 'Try another colourway',
        steps: ['Make a new colourway.', 'Change its colours.', 'Compare it with the others.'],
      },
      {
        title: 'See the printing plates',
        steps: [
          'Open Separations.',
          'Show or hide each ink.',
          'Show them in their inks to see what overprints.',
        ],
      },
    ],
  },
  check: {
    title: 'Check',
    about: 'Shows what may fail: on press, for the eye, and for the machine that reads the file.',
    jobs: [
      {
        title: 'See what prints differently',
        steps: ['Choose the print condition.', 'Open Press gamut.', 'Choose a finding to see how to fix it.'],
      },
      {
        title: 'Make text readable',
        steps: [
          'Open Contrast.',
          'Choose the pairs that are used together.',
          'Take the nearest colour that passes.',
        ],
      },
      {
        title: 'Compare with an earlier state',
        steps: ['Open Against….', 'Choose a library or a state.', 'Go through the differences.'],
      },
    ],
  },
  'hand-over': {
    title: 'Hand over',
    about: 'Makes the files for each kind of work, and shows what each format changes.',
    jobs: [
      {
        title: 'Download one file',
        steps: ['Choose a destination and a format.', 'See what changes.', 'Download that format only.'],
      },
      {
        title: 'Download a kit',
        steps: ['Tick the destinations.', 'Download the kit: files, notes and a page of chips in one zip.'],
      },
      {
        title: 'Do the same again',
        steps: ['Keep your choices as a preset.', 'Next time, choose the preset and download.'],
      },
    ],
  },
  history: {
    title: 'History',
    about: 'Every change of the library, and how it was after each.',
    jobs: [
      { title: 'See an earlier state', steps: ['Choose a change.', 'Look at the library as it was then.'] },
      { title: 'Return to it', steps: ['Choose a change.', 'Restore that state; Undo takes it back.'] },
      {
        title: 'Take a deleted swatch back',
        steps: ['Choose a state that has it.', 'Choose the swatch, and bring it back.'],
      },
    ],
  },
  pdf: {
    title: 'PDF',
    about:
      'The inks of a PDF. Only what you change is written, behind the file as it came. Its colours are changed in Apply.',
    jobs: [
      {
        title: 'Give an ink its real name',
        steps: ['Drop the PDF, and choose the ink.', 'Type its name and press Enter.', 'Save the PDF.'],
      },
      {
        title: 'Let a measurement travel along',
        steps: ['Choose the ink.', 'Embed a measurement: CxF, CGATS or CSV.', 'Save the PDF.'],
      },
      {
        title: 'Replace an ink',
        steps: ['Choose the ink.', 'Choose one of the nearest swatches of your books and libraries.'],
      },
    ],
  },
  convert: {
    title: 'Convert',
    about: 'Turns files of one format into another. Nothing is kept.',
    jobs: [
      {
        title: 'Convert a file',
        steps: ['Drop it.', 'Choose a format and see what changes.', 'Download it.'],
      },
      {
        title: 'Convert many',
        steps: ['Drop them all, or a zip or folder.', 'Tick the formats.', 'Download one zip.'],
      },
      {
        title: 'See what a format loses',
        steps: ['Choose a format.', 'Read the report: each swatch before and after.'],
      },
    ],
  },
  books: {
    title: 'Books',
    about: 'Numbered inks with what they measure on a paper. A book is looked at, not edited.',
    jobs: [
      {
        title: 'Add a book',
        steps: ['Drop its file here.', 'Set its paper and measuring condition.'],
      },
      {
        title: 'Find an ink',
        steps: ['Open a library, then Gather and Book.', 'Type a number, a name or a colour.'],
      },
      {
        title: 'Keep a library as a book',
        steps: ['On the list of libraries, choose Keep as a book.', 'Its swatches can then be matched.'],
      },
    ],
  },
  profiles: {
    title: 'Print profiles',
    about: 'The ICC profiles that print conditions are chosen from.',
    jobs: [
      {
        title: 'Add a profile',
        steps: ['Drop an ICC file here.', 'Choose it as a library’s print condition.'],
      },
      {
        title: 'Print a library on it',
        steps: ['Open the library’s Check.', 'Press the print condition, and choose the profile.'],
      },
      { title: 'Remove one', steps: ['Press Remove beside it.', 'Libraries that use it keep it.'] },
    ],
  },
  backups: {
    title: 'Backups',
    about: 'Copies of everything, made once a day and when you ask.',
    jobs: [
      { title: 'Make one now', steps: ['Press Back up now.'] },
      {
        title: 'Restore one',
        steps: ['Choose it.', 'Restore it: what it replaces is kept as a backup first.'],
      },
      { title: 'Keep one elsewhere', steps: ['Copy its file from the backups folder to another disk.'] },
    ],
  },
};

/** The help of the screen at a path; that of the list of libraries where a screen has none. */
export function helpOf(path: string): Help {
  const parts = path.split('/').filter(Boolean);
  const id = parts[0] === 'libraries' ? parts.at(-1) : parts[0];
  return HELP[id ?? 'home'] ?? HELP.home!;
}
