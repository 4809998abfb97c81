import { factsById } from '#core/formats/plan';
import type { Library } from '#core/swatch/index';
import type { FileLink, Link } from '#server/links';
import { Field } from '~/ui/field';
import { count } from '~/ui/swatch';
import { when } from '~/ui/when';
import { fileAddress, plainAddressName, tokenOf } from './addresses';
import { LinkActions } from './LinkActions';
import css from './Share.module.css';
import type { Links } from './use-links';

/** A link to a file. */
export function FileLinkRow({
  link,
  links,
  library,
}: {
  link: Link<FileLink>;
  links: Links;
  library: Library;
}) {
  const { data, uses } = link;
  const token = tokenOf(link.id);
  const [ending] = factsById(data.file.format).endings;
  const names = data.groups && library.groups.filter((g) => data.groups?.includes(g.id)).map((g) => g.name);
  const address = token && fileAddress(token, plainAddressName(names?.join(' ') || library.name, ending));
  return (
    <div className={`${css.row} ${css.file}`}>
      <span className="cut" dir="auto" title={data.name}>
        {data.name}
      </span>
      <Field
        className="mono"
        readOnly
        aria-label={`Address of ${data.name}`}
        value={address ?? ''}
        placeholder="known to the browser that made it; renew it for a new one"
        onFocus={(e) => e.target.select()}
      />
      <span className="caption">
        {[
          uses === 0 ? 'not used yet' : count(uses, 'request'),
          data.pinned && `as it was ${when(new Date(data.pinned.at), new Date())}`,
        ]
          .filter(Boolean)
          .join(' · ')}
      </span>
      <LinkActions link={link} links={links} address={address} />
    </div>
  );
}
