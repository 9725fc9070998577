<script lang="ts">
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
    Undo2,
  } from '@lucide/svelte';
  import { Editor } from '@tiptap/core';
  import Image from '@tiptap/extension-image';
  import StarterKit from '@tiptap/starter-kit';
  import { getContext, untrack } from 'svelte';
  import type { Media } from '$lib/core/schema/record';
  import { mediaAddress } from '$lib/core/model/media';
  import { safeUrl } from '$lib/core/base/text';
  import MediaPicker from '$lib/studio/media/MediaPicker.svelte';
  import Button from '$lib/ui/Button.svelte';
  import type { InputProps } from './input';

  let { field, value, id, invalid, describedby, onchange }: InputProps = $props();

  const lookOnly = getContext<(() => boolean) | undefined>('look only');
  let editor: Editor | undefined = $state();
  /** Counts up with every change of text or selection, so that the buttons tell what holds here. */
  let beat = $state(0);
  let sent = '';
  let linking = $state(false);
  let address = $state('');
  let choosing = $state(false);
  /** Whether the code of a player was pasted. */
  let refused = $state(false);

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
      ],
      content: (value as string) ?? '',
      editable: !lookOnly?.(),
      editorProps: {
        handlePaste: (_view, event) => {
          refused = /<iframe\b/i.test(event.clipboardData?.getData('text/plain') ?? '');
          return refused;
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
    linking = !linking;
  }
  function setLink(event: Event) {
    event.preventDefault();
    const href = safeUrl(address.trim());
    if (href) chain()?.extendMarkRange('link').setLink({ href }).run();
    else chain()?.extendMarkRange('link').unsetLink().run();
    linking = false;
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
        onclick={tool.run}><tool.icon size={15} /></button
      >
    {/each}
    {#if linking}
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
    {/if}
  </div>
  {#if refused}
    <p role="alert" class="flex items-baseline gap-3 bg-ochre px-3 py-1">
      This is the code of a player. Players stand in a field of the kind Embed, which says where they may come from.
      <button type="button" class="ml-auto underline underline-offset-2" onclick={() => (refused = false)}>Close</button
      >
    </p>
  {/if}
  <div class="max-h-[28rem] overflow-y-auto" {@attach mount}></div>
</div>
<MediaPicker bind:open={choosing} onpick={putPicture} />
