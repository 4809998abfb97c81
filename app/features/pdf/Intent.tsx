import { profileUrl } from '~/colors/colors';
import { printable, useProfiles } from '~/features/shared/profiles/ConditionButton';
import { Choose } from '~/ui/options';
import { useToast } from '~/ui/toast';

/** What a PDF is printed on, as it says itself, and another condition to put into it. */
export function Intent({
  name,
  onChoose,
}: {
  name: string;
  onChoose(name: string, profile: Uint8Array): void;
}) {
  const toast = useToast();
  const listed = printable(useProfiles());
  const embed = async (hash: string) => {
    const response = await fetch(profileUrl(hash)).catch(() => null);
    if (!response?.ok) {
      toast({ text: 'The profile cannot be fetched: the server does not answer. Try again.', stays: true });
      return;
    }
    const bytes = new Uint8Array(await response.arrayBuffer());
    onChoose(listed.find(([h]) => h === hash)?.[1] ?? name, bytes);
  };
  return (
    <Choose
      label="printed on"
      value=""
      values={[['', name], ...listed.filter(([, n]) => n !== name)]}
      onChange={(hash) => hash && void embed(hash)}
    />
  );
}
