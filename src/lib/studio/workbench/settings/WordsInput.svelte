<script lang="ts">
  import { Bold, Italic, Link2 } from '@lucide/svelte';
  import { Editor, Node } from '@tiptap/core';
  import StarterKit from '@tiptap/starter-kit';
  import { untrack } from 'svelte';
  import { pathWords } from '$lib/core/paths/built-ins';
  import type { Path } from '$lib/core/schema/path';
  import type { Scopes, ValueType } from '$lib/core/paths/scopes';
  import { compileSlot, misfit, startingTake } from '$lib/core/bindings/slots';
  import type { Binding, Run, Take } from '$lib/core/schema/binding';
  import { fittingTakes, startBinding } from '$lib/core/templates/bring';
  import { safeUrl } from '$lib/core/base/text';
  import BindingEditor from './BindingEditor.svelte';
  import PathPicker from './PathPicker.svelte';
  import { docOf, VALUE_NODE, runsOf } from './words';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    scopes,
    words,
    label,
    whose,
    onchange,
  }: {
    wb: Workbench;
    scopes: Scopes;
    words: Run[][];
    label: string;
    whose: string;
    onchange: (label: string, words: Run[][]) => void;
  } = $props();

  let editor: Editor | undefined = $state.raw();
  let beat = $state(0);
  let sent = '';
  let linking = $state(false);
  let address = $state('');

  const textNow = (binding: Binding): string => {
    const html = compileSlot({ bound: binding }, 'inline', scopes, wb.index).inline(wb.preview.envAt(scopes));
    return new DOMParser().parseFromString(html, 'text/html').body.textContent ?? '';
  };
  const nameOf = (binding: Binding): string => pathWords(binding.path, wb.index);

  /** A value in the sentence: one piece, shown as it is in the record on screen. */
  const ValueNode = Node.create({
    name: VALUE_NODE,
    group: 'inline',
    inline: true,
    atom: true,
    selectable: true,
    addAttributes: () => ({ bound: { default: null, rendered: false }, link: { default: null, rendered: false } }),
    renderHTML: () => ['span', { class: 'woven' }],
    addNodeView:
      () =>
      ({ node }) => {
        const dom = document.createElement('span');
        dom.className = 'woven';
        const show = (binding: Binding) => {
          const now = untrack(() => textNow(binding));
          dom.textContent = now || nameOf(binding);
          dom.title = nameOf(binding);
          dom.dataset.empty = now ? 'no' : 'yes';
        };
        show(node.attrs.bound as Binding);
        return { dom };
      },
  });

  const mount = (element: HTMLElement) => untrack(() => begin(element));
  function begin(element: HTMLElement) {
    const made = new Editor({
      element,
      extensions: [
        StarterKit.configure({
          blockquote: false,
          bulletList: false,
          code: false,
          codeBlock: false,
          heading: false,
          horizontalRule: false,
          listItem: false,
          orderedList: false,
          strike: false,
          underline: false,
          link: { openOnClick: false, autolink: false, HTMLAttributes: { rel: null, target: null } },
        }),
        ValueNode,
      ],
      content: docOf(words),
      editorProps: {
        attributes: {
          role: 'textbox',
          'aria-multiline': 'true',
          'aria-label': label,
          class: 'min-h-9 px-2 py-1.5 outline-none sentence',
        },
      },
      onTransaction: () => beat++,
      onUpdate: ({ editor: now }) => {
        const next = runsOf(now.getJSON());
        sent = JSON.stringify(next);
        onchange(`Wrote ${whose}`, next);
      },
    });
    editor = made;
    sent = JSON.stringify(words);
    return () => made.destroy();
  }

  // What comes from elsewhere (an undo, another element) is taken in; our own text is not written back into itself.
  $effect(() => {
    const given = JSON.stringify(words);
    if (editor && given !== sent) {
      sent = given;
      editor.commands.setContent(docOf(words), { emitUpdate: false });
    }
  });
  // Another record on screen has other values.
  let drawnFor: unknown;
  $effect(() => {
    const now = wb.preview.record;
    if (editor && drawnFor !== undefined && drawnFor !== now)
      untrack(() => editor?.commands.setContent(docOf(words), { emitUpdate: false }));
    drawnFor = now;
  });

  const on = (name: string) => beat >= 0 && (editor?.isActive(name) ?? false);
  /** The value that the cursor is on. */
  const here = $derived.by((): Binding | undefined => {
    void beat;
    return editor?.isActive(VALUE_NODE) ? (editor.getAttributes(VALUE_NODE).bound as Binding) : undefined;
  });

  function put(path: Path, type: ValueType, take?: Take) {
    const bound = startBinding(path, type, 'inline', take);
    if ('bound' in bound)
      editor
        ?.chain()
        .focus()
        .insertContent({ type: VALUE_NODE, attrs: { bound: bound.bound } })
        .run();
  }
  function setLink() {
    const href = safeUrl(address.trim());
    if (href) editor?.chain().focus().extendMarkRange('link').setLink({ href }).run();
    else editor?.chain().focus().extendMarkRange('link').unsetLink().run();
    linking = false;
  }
  const refuse = (type: ValueType) => misfit(type, 'inline', startingTake(type, 'inline'))?.what;
</script>

<div class="min-w-0 grow rounded-sm border border-hairline bg-paper focus-within:outline-2 focus-within:outline-plum">
  <div class="flex flex-wrap items-center gap-0.5 border-b border-hairline bg-linen/60 px-1 py-0.5">
    {#each [{ name: 'bold', words: 'Strong', icon: Bold }, { name: 'italic', words: 'Emphasis', icon: Italic }] as tool (tool.name)}
      <button
        type="button"
        class="rounded-sm p-1.5 {on(tool.name) ? 'bg-linen-deep text-plum' : 'text-faded hover:text-ink'}"
        aria-label={tool.words}
        title={tool.words}
        aria-pressed={on(tool.name)}
        onmousedown={(event) => event.preventDefault()}
        onclick={() => editor?.chain().focus().toggleMark(tool.name).run()}><tool.icon size={14} /></button
      >
    {/each}
    <button
      type="button"
      class="rounded-sm p-1.5 {on('link') ? 'bg-linen-deep text-plum' : 'text-faded hover:text-ink'}"
      aria-label="Link"
      title="Link"
      onclick={() => {
        address = (editor?.getAttributes('link').href as string) ?? '';
        linking = !linking;
      }}><Link2 size={14} /></button
    >
    {#if linking}
      <input
        class="w-48"
        aria-label="Address of the link"
        placeholder="https:// or /huts/"
        bind:value={address}
        onkeydown={(e) => e.key === 'Enter' && setLink()}
      />
      <button type="button" class="rounded-sm px-2 py-0.5 hover:bg-linen-deep" onclick={setLink}>Set</button>
    {/if}
    <span class="ml-auto">
      <PathPicker
        {wb}
        {scopes}
        label="Put a value into the sentence"
        empty="Put a value here"
        {refuse}
        takes={(t) => fittingTakes(t, 'inline')}
        onpick={put}
      />
    </span>
  </div>
  <div class="max-h-40 overflow-y-auto" {@attach mount}></div>
  {#if here}
    <div class="flex flex-col gap-1.5 border-t border-hairline py-1.5 pr-2 [&_.pl-30]:pl-2">
      <p class="pl-2 text-xs text-faded">{nameOf(here)}</p>
      <BindingEditor
        {wb}
        {scopes}
        shape="inline"
        binding={here}
        {whose}
        onchange={(_label, next) => editor?.chain().updateAttributes(VALUE_NODE, { bound: next }).run()}
      />
    </div>
  {/if}
</div>
