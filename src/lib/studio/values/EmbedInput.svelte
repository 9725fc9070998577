<script lang="ts">
  import { hostsIn } from '$lib/core/model/settings';
  import { embedFrom, leftWords, mayEmbed, outspoken, reduced, type Player } from '$lib/core/model/kinds/player';
  import type { InputProps } from './input';

  let { field, settings, value, id, invalid, describedby, onchange }: InputProps = $props();

  const embed = $derived(value as Player | null | undefined);
  const hosts = $derived(hostsIn(settings));
  const fine = $derived(embed ? mayEmbed(embed.src, hosts) : false);
  /** As a frame of the form shows it: with no more than its host is given now. */
  const shown = $derived(embed && fine ? reduced(outspoken(embed, hosts), hosts).player : undefined);
  let left: string[] = $state([]);

  function paste(text: string) {
    const next = reduced(embedFrom(text), hosts);
    left = next.left;
    onchange(next.player.src ? { ...(embed?.title ? { title: embed.title } : {}), ...next.player } : null);
  }
</script>

<div class="flex items-start gap-3">
  <div class="flex min-w-0 grow flex-col gap-1.5">
    <input
      {id}
      class="w-full"
      placeholder="Address of a player, or its code"
      aria-invalid={invalid}
      aria-describedby={describedby}
      value={embed?.src ?? ''}
      onchange={(e) => paste(e.currentTarget.value)}
    />
    <input
      class="w-full"
      aria-label="Title of {field.label}"
      placeholder="What is to be seen, for those who listen"
      value={embed?.title ?? ''}
      disabled={!embed}
      oninput={(e) => {
        const { title: _, ...rest } = embed ?? { src: '' };
        onchange(e.currentTarget.value ? { ...rest, title: e.currentTarget.value } : rest);
      }}
    />
    {#if left.length}<p role="status" class="bg-ochre px-2 py-1 text-xs">{leftWords(left)}</p>{/if}
    <p class="text-xs text-faded">
      Players may come from the site itself{hosts.length ? ` and ${hosts.map(({ host }) => host).join(', ')}` : ''}.
    </p>
  </div>
  {#if shown}
    <iframe
      src={shown.src}
      title={shown.title ?? field.label}
      sandbox={shown.sandbox?.join(' ')}
      allow={shown.allow?.join('; ')}
      referrerpolicy={shown.referrer as ReferrerPolicy}
      class="aspect-video w-44 shrink-0 rounded-sm border border-hairline"
    ></iframe>
  {/if}
</div>
