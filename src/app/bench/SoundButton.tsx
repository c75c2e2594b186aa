/** Sound of the clip that plays, on or off. */
import { Volume2, VolumeX } from 'lucide-react';
import type { MediaRecord } from '../../document/records';
import { IconButton } from '../../ui/controls';
import { player } from '../player';
import { sound, useHeard } from '../sound';
import { useSession } from '../store';

/** Only where the clip has sound: on or off, and what it is. */
export function SoundButton({ media }: { media: MediaRecord }) {
  const heard = useHeard(media);
  const on = useSession((s) => s.sound);
  if (!heard) return null;
  const many = heard.channels === 1 ? 'one channel' : `${heard.channels} channels`;
  const what = `${heard.title}, ${many}, ${heard.rate / 1000} kHz`;
  const tip = heard.plays
    ? `Sound (${what}): ${on ? 'off' : 'on'}; it is heard forwards at the shot's own rate`
    : `This browser does not play its sound (${what}); a render takes it along all the same`;
  return (
    <IconButton
      aria-label={on ? 'Sound off' : 'Sound on'}
      tip={tip}
      isDisabled={!heard.plays}
      onPress={() => {
        useSession.getState().set({ sound: !on });
        if (!on) sound.wake();
        player.soundAnew();
      }}
    >
      {on && heard.plays ? <Volume2 /> : <VolumeX />}
    </IconButton>
  );
}
