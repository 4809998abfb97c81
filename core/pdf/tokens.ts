/**
 * The words of a content stream: numbers, names and operators; arrays, dictionaries and pictures inside are passed over, and so are
 * texts unless they are asked for, which begin with “(” or “<” then, and the data of a picture, which begin with NUL.
 */
export function* tokensOf(text: string, withTexts = false): Generator<string> {
  const pattern = /%[^\r\n]*|<<|>>|<[^>]*>|\[|\]|\(|\/[^\s/<>()[\]{}%]*|[^\s/<>()[\]{}%]+/g;
  for (let match = pattern.exec(text); match; match = pattern.exec(text)) {
    const token = match[0];
    if (token === '(') {
      let depth = 1;
      let at = pattern.lastIndex;
      for (; at < text.length && depth > 0; at++) {
        const c = text[at];
        if (c === '\\') at++;
        else if (c === '(') depth++;
        else if (c === ')') depth--;
      }
      pattern.lastIndex = at;
      if (withTexts) yield text.slice(match.index, at);
    } else if (token === 'ID') {
      // a picture written into the stream ends with EI on its own
      const end = /\sEI(?=\s|$)/g;
      end.lastIndex = pattern.lastIndex;
      const found = end.exec(text);
      // one white space stands before its data (8.9.7)
      if (withTexts) yield `\0${text.slice(pattern.lastIndex + 1, found?.index ?? text.length)}`;
      pattern.lastIndex = found ? end.lastIndex : text.length;
      yield 'EI';
    } else if (!/^[%<>[\]]/.test(token) || (withTexts && /^<[^<]/.test(token))) yield token;
  }
}
