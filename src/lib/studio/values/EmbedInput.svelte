<script lang="ts">
  import { embedFrom, mayEmbed } from '$lib/core/model/kinds/embed';
  import type { InputProps } from './input';

  interface Embed {
    src: string;
    title?: string;
    width?: number;
    height?: number;
  }

  let { field, settings, value, id, invalid, describedby, onchange }: InputProps = $props();

  const embed = $derived(value as Embed | null | undefined);
  const hosts = $derived((settings.hosts ?? []) as string[]);
  const fine = $derived(embed ? mayEmbed(embed.src, hosts) : false);

  function paste(text: string) {
    const next = embedFrom(text);
    onchange(next.src ? { ...(embed?.title ? { title: embed.title } : {}), ...next } : null);
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
    <p class="text-xs text-faded">
      Players may come from the site itself{hosts.length ? ` and ${hosts.join(', ')}` : ''}.
    </p>
  </div>
  {#if embed && fine}
    <iframe
      src={embed.src}
      title={embed.title ?? field.label}
      sandbox="allow-scripts"
      class="aspect-video w-44 shrink-0 rounded-sm border border-hairline"
    ></iframe>
  {/if}
</div>
