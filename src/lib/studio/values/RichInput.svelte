<script lang="ts">
  import { hostsIn } from '$lib/core/model/settings';
  import {
    Bold,
    Heading2,
    Heading3,
    ImagePlus,
    Italic,
    Link2,
    List,
    ListOrdered,
    Minus,
    Quote,
    Redo2,
    RemoveFormatting,
    SquarePlay,
    Undo2,
  } from '@lucide/svelte';
  import { Editor } from '@tiptap/core';
  import Image from '@tiptap/extension-image';
  import StarterKit from '@tiptap/starter-kit';
  import { getContext, untrack } from 'svelte';
  import type { Media } from '$lib/core/schema/record';
  import { mediaAddress } from '$lib/core/model/media';
  import { safeUrl } from '$lib/core/base/text';
  import {
    comesFrom,
    embedFrom,
    leftWords,
    mayEmbed,
    outspoken,
    reduced,
    type Player,
  } from '$lib/core/model/kinds/player';
  import MediaPicker from '$lib/studio/media/MediaPicker.svelte';
  import Button from '$lib/ui/Button.svelte';
  import type { InputProps } from './input';
  import { PlayerNode } from './player-node';

  let { field, settings, value, id, invalid, describedby, onchange }: InputProps = $props();

  const lookOnly = getContext<(() => boolean) | undefined>('look only');
  let editor: Editor | undefined = $state();
  /** Counts up with every change of text or selection, so that the buttons tell what holds here. */
  let beat = $state(0);
  let sent = '';
  /** What the line beside the tools asks for. */
  let asking: 'link' | 'player' | undefined = $state();
  let address = $state('');
  let named = $state('');
  let choosing = $state(false);
  /** What became of the code of a player. */
  let said = $state('');
  const hosts = $derived(hostsIn(settings));

  // Made once: an attachment would begin anew with every value it reads.
  const mount = (element: HTMLElement) => untrack(() => begin(element));
  function begin(element: HTMLElement) {
    const made = new Editor({
      element,
      extensions: [
        StarterKit.configure({
          heading: { levels: [2, 3, 4] },
          link: {
            openOnClick: false,
            autolink: true,
            protocols: ['mailto', 'tel'],
            HTMLAttributes: { rel: null, target: null },
          },
        }),
        Image,
        PlayerNode,
      ],
      content: (value as string) ?? '',
      editable: !lookOnly?.(),
      editorProps: {
        handlePaste: (_view, event) => {
          const text = event.clipboardData?.getData('text/plain') ?? '';
          if (!/<iframe\b/i.test(text)) return false;
          putPlayer(text);
          return true;
        },
        attributes: {
          id,
          role: 'textbox',
          'aria-multiline': 'true',
          'aria-label': field.label,
          class: 'rich min-h-28 px-3 py-2 outline-none',
        },
      },
      onTransaction: () => beat++,
      onUpdate: ({ editor: now }) => {
        sent = now.isEmpty ? '' : now.getHTML();
        onchange(sent || null);
      },
    });
    editor = made;
    sent = (value as string) ?? '';
    return () => made.destroy();
  }

  // What comes from outside (another's version, an undo) is taken in; our own text is not written back into itself.
  $effect(() => {
    const given = (value as string) ?? '';
    if (editor && given !== sent) {
      sent = given;
      editor.commands.setContent(given, { emitUpdate: false });
    }
  });

  const on = (name: string, attributes?: object) => beat >= 0 && (editor?.isActive(name, attributes) ?? false);
  const chain = () => editor?.chain().focus();
  /** The words keep the focus, which would come back a frame later: a letter typed meanwhile would be lost. */
  const keepFocus = (event: MouseEvent) => event.preventDefault();
  const tools = $derived([
    {
      label: 'Heading',
      icon: Heading2,
      on: on('heading', { level: 2 }),
      run: () => chain()?.toggleHeading({ level: 2 }).run(),
    },
    {
      label: 'Smaller heading',
      icon: Heading3,
      on: on('heading', { level: 3 }),
      run: () => chain()?.toggleHeading({ level: 3 }).run(),
    },
    { label: 'Strong', icon: Bold, on: on('bold'), run: () => chain()?.toggleBold().run() },
    { label: 'Emphasis', icon: Italic, on: on('italic'), run: () => chain()?.toggleItalic().run() },
    { label: 'List', icon: List, on: on('bulletList'), run: () => chain()?.toggleBulletList().run() },
    { label: 'Numbered list', icon: ListOrdered, on: on('orderedList'), run: () => chain()?.toggleOrderedList().run() },
    { label: 'Quotation', icon: Quote, on: on('blockquote'), run: () => chain()?.toggleBlockquote().run() },
    { label: 'Line between', icon: Minus, on: false, run: () => chain()?.setHorizontalRule().run() },
    { label: 'Link', icon: Link2, on: on('link'), run: startLink },
    { label: 'Picture', icon: ImagePlus, on: false, run: () => (choosing = true) },
    { label: 'Player', icon: SquarePlay, on: on('player'), run: startPlayer },
    {
      label: 'Take the styling away',
      icon: RemoveFormatting,
      on: false,
      run: () => chain()?.unsetAllMarks().clearNodes().run(),
    },
    { label: 'Undo', icon: Undo2, on: false, run: () => chain()?.undo().run() },
    { label: 'Redo', icon: Redo2, on: false, run: () => chain()?.redo().run() },
  ]);

  function startLink() {
    address = (editor?.getAttributes('link').href as string) ?? '';
    asking = asking === 'link' ? undefined : 'link';
  }
  /** The player that is chosen in the text, if one is. */
  const chosen = () => editor?.getAttributes('player').player as Player | undefined;
  function startPlayer() {
    address = chosen()?.src ?? '';
    named = chosen()?.title ?? '';
    asking = asking === 'player' ? undefined : 'player';
  }
  /** Puts a player from its address or code where the cursor is, or says why not. */
  function putPlayer(text: string, title = '') {
    const read = embedFrom(text);
    if (!mayEmbed(read.src, hosts)) {
      said = `No player may come from ${read.src ? `“${read.src.slice(0, 100)}”` : 'code without an address'}. Allowed are ${comesFrom(hosts)}; other hosts are allowed in the settings of the field.`;
      return false;
    }
    const before = chosen()?.src === text ? chosen() : undefined;
    // What stands in text says all that it may: an address by itself asks for what its host is given.
    const { allow } = outspoken(read, hosts);
    const { player, left } = reduced(before ?? { ...read, allow }, hosts);
    said = leftWords(left);
    const kept: Player = { ...player, ...(before || title ? { title } : {}) };
    chain()
      ?.insertContent({ type: 'player', attrs: { player: kept } })
      .run();
    return true;
  }
  function setPlayer(event: Event) {
    event.preventDefault();
    if (!address.trim()) chain()?.deleteSelection().run();
    else if (!putPlayer(address.trim(), named.trim().slice(0, 200))) return;
    asking = undefined;
  }
  function setLink(event: Event) {
    event.preventDefault();
    const href = safeUrl(address.trim());
    if (href) chain()?.extendMarkRange('link').setLink({ href }).run();
    else chain()?.extendMarkRange('link').unsetLink().run();
    asking = undefined;
  }
  function putPicture(media: Media) {
    chain()
      ?.setImage({ src: mediaAddress(media, Math.min(960, media.width)), alt: media.alt })
      .run();
  }
</script>

<div
  class="rounded-sm border bg-paper focus-within:outline-2 focus-within:outline-plum {invalid
    ? 'border-madder'
    : 'border-hairline'}"
  aria-describedby={describedby}
>
  <div
    class="flex flex-wrap items-center gap-0.5 border-b border-hairline bg-linen/60 px-1 py-0.5"
    role="toolbar"
    aria-label="Styling of {field.label}"
  >
    {#each tools as tool (tool.label)}
      <button
        type="button"
        class="rounded-sm p-1.5 {tool.on ? 'bg-linen-deep text-plum' : 'text-faded hover:text-ink'}"
        aria-label={tool.label}
        title={tool.label}
        aria-pressed={tool.on}
        onmousedown={keepFocus}
        onclick={tool.run}><tool.icon size={15} /></button
      >
    {/each}
    {#if asking === 'link'}
      <span class="ml-1 flex items-center gap-1">
        <!-- svelte-ignore a11y_autofocus -->
        <input
          autofocus
          class="w-64"
          placeholder="https:// or /huts/…"
          aria-label="Address of the link"
          bind:value={address}
          onkeydown={(e) => e.key === 'Enter' && setLink(e)}
        />
        <Button onclick={setLink}>{address.trim() ? 'Set' : 'Take away'}</Button>
      </span>
    {:else if asking === 'player'}
      <span class="flex w-full items-center gap-1 p-1">
        <!-- svelte-ignore a11y_autofocus -->
        <input
          autofocus
          class="min-w-0 grow"
          placeholder="Address of a player, or its code"
          aria-label="Address of the player"
          bind:value={address}
          onkeydown={(e) => e.key === 'Enter' && setPlayer(e)}
        />
        <input
          class="w-56"
          placeholder="What is to be seen"
          aria-label="Title of the player"
          bind:value={named}
          onkeydown={(e) => e.key === 'Enter' && setPlayer(e)}
        />
        <Button onclick={setPlayer} disabled={!address.trim() && !on('player')}
          >{address.trim() ? 'Put in' : 'Take away'}</Button
        >
      </span>
    {/if}
  </div>
  {#if said}
    <p role="alert" class="flex items-baseline gap-3 bg-ochre px-3 py-1">
      {said}
      <button type="button" class="ml-auto underline underline-offset-2" onclick={() => (said = '')}>Close</button>
    </p>
  {/if}
  <div class="max-h-[28rem] overflow-y-auto" {@attach mount}></div>
</div>
<MediaPicker bind:open={choosing} onpick={putPicture} />
