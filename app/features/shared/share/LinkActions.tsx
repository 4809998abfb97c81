import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { Ellipsis } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { Link } from '#server/links';
import { PlainButton } from '~/ui/plain-button';
import { useToast } from '~/ui/toast';
import css from './Share.module.css';
import type { Links } from './use-links';

/** What is done with a link: its address copied or shown, renewed, revoked. */
export function LinkActions({
  link,
  links,
  address,
}: {
  link: Link;
  links: Links;
  /** Null where another browser made it. */
  address: string | null;
}) {
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [code, setCode] = useState(false);
  const toast = useToast();
  const name = link.data.name || 'link without a name';
  const copy = async () => {
    if (!address) return;
    const done = await navigator.clipboard.writeText(address).then(
      () => true,
      () => false,
    );
    toast({ text: done ? `The address of “${name}” was copied.` : `This browser does not copy: ${address}` });
  };
  const pick = (what: () => unknown) => () => {
    setMenu(null);
    void what();
  };
  return (
    <span className={css.actions}>
      {address ? (
        <PlainButton look="link" onClick={() => void copy()}>
          Copy<span className="unseen"> the address of {name}</span>
        </PlainButton>
      ) : (
        <span
          className="caption"
          title="The address is known to the browser that made the link. Renew it for a new one."
        >
          made elsewhere
        </span>
      )}
      <PlainButton
        look="icon"
        aria-label={`More for ${name}`}
        aria-haspopup="menu"
        aria-expanded={!!menu}
        onClick={(e) => setMenu(e.currentTarget)}
      >
        <Ellipsis size={16} />
      </PlainButton>
      <Menu anchorEl={menu} open={!!menu} onClose={() => setMenu(null)}>
        {address && <MenuItem onClick={pick(() => setCode(true))}>QR code</MenuItem>}
        <MenuItem onClick={pick(() => links.renew(link))}>Renew the address</MenuItem>
        <MenuItem onClick={pick(() => links.revoke(link))}>Revoke</MenuItem>
      </Menu>
      {code && address && <Code name={name} address={address} onClose={() => setCode(false)} />}
    </span>
  );
}

function Code({ name, address, onClose }: { name: string; address: string; onClose(): void }) {
  const [picture, setPicture] = useState('');
  useEffect(() => {
    let live = true;
    void import('qrcode').then(async ({ toString: drawn }) => {
      const svg = await drawn(address, { type: 'svg', margin: 2 });
      if (live) setPicture(`data:image/svg+xml,${encodeURIComponent(svg)}`);
    });
    return () => {
      live = false;
    };
  }, [address]);
  return (
    <Dialog open onClose={onClose}>
      <DialogTitle dir="auto">{name}</DialogTitle>
      <DialogContent>
        {picture && <img className={css.code} src={picture} alt={`QR code of ${address}`} />}
        <p className={`mono ${css.address}`}>{address}</p>
      </DialogContent>
    </Dialog>
  );
}
