import type { Command } from 'commander';
import { formats, writable } from '../../core/formats/index.ts';
import { oneOf } from '../args.ts';
import type { Shell } from '../shell.ts';

const SHELLS = ['bash', 'zsh', 'fish'] as const;
type ShellName = (typeof SHELLS)[number];

/** The flags of a command, long ones first named. */
const flagsOf = (command: Command) =>
  command.options.map((o) => ({ flag: o.long ?? o.short ?? '', about: o.description }));
const quoted = (text: string) => `'${text.replaceAll("'", `'\\''`)}'`;

/** Words that may follow a flag. */
const VALUES: Record<string, string[]> = {
  '--to': writable.map((f) => f.id),
  '--from': formats.filter((f) => f.traits.read).map((f) => f.id),
};

function bash(commands: readonly Command[]): string {
  const cases = commands.map(
    (c) =>
      `    ${c.name()}) words="${flagsOf(c)
        .map((f) => f.flag)
        .join(' ')}" ;;`,
  );
  const values = Object.entries(VALUES).map(
    ([flag, ids]) => `    ${flag}) COMPREPLY=( $(compgen -W "${ids.join(' ')}" -- "$word") ); return ;;`,
  );
  return `_papillon() {
  local word="\${COMP_WORDS[COMP_CWORD]}" before="\${COMP_WORDS[COMP_CWORD-1]}" words=""
  COMPREPLY=()
  if [ "$COMP_CWORD" -eq 1 ]; then
    COMPREPLY=( $(compgen -W "${commands.map((c) => c.name()).join(' ')}" -- "$word") )
    return
  fi
  case "$before" in
${values.join('\n')}
  esac
  case "\${COMP_WORDS[1]}" in
${cases.join('\n')}
  esac
  case "$word" in
    -*) COMPREPLY=( $(compgen -W "$words" -- "$word") ) ;;
    *) compopt -o default 2>/dev/null; COMPREPLY=( $(compgen -f -- "$word") ) ;;
  esac
}
complete -F _papillon papillon
`;
}

/** zsh knows bash's completions. */
const zsh = (commands: readonly Command[]) =>
  `autoload -U +X bashcompinit && bashcompinit\n${bash(commands)}`;

function fish(commands: readonly Command[]): string {
  const first = commands.map(
    (c) => `complete -c papillon -n __fish_use_subcommand -a ${c.name()} -d ${quoted(c.description())}`,
  );
  const flags = commands.flatMap((c) =>
    flagsOf(c).map(({ flag, about }) => {
      const values = VALUES[flag];
      return `complete -c papillon -n '__fish_seen_subcommand_from ${c.name()}' -l ${flag.replace(/^--/, '')} -d ${quoted(about)}${values ? ` -x -a '${values.join(' ')}'` : ''}`;
    }),
  );
  return `${[...first, ...flags].join('\n')}\n`;
}

const SCRIPTS: Record<ShellName, (commands: readonly Command[]) => string> = { bash, zsh, fish };

/** `completion`: what makes a shell complete the others. */
export function addCompletion(program: Command, { streams: { out } }: Shell): void {
  program
    .command('completion')
    .description('a script that makes a shell complete commands, flags and formats')
    .argument('<shell>', SHELLS.join(', '), oneOf(SHELLS))
    .action((shell: ShellName) => out(SCRIPTS[shell](program.commands)));
}
