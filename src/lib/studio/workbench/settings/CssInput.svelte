<script lang="ts">
  import {
    autocompletion,
    completionKeymap,
    type CompletionContext,
    type CompletionResult,
  } from '@codemirror/autocomplete';
  import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
  import { css } from '@codemirror/lang-css';
  import { defaultHighlightStyle, syntaxHighlighting } from '@codemirror/language';
  import { lintGutter, setDiagnostics, type Diagnostic } from '@codemirror/lint';
  import { EditorState } from '@codemirror/state';
  import { EditorView, keymap, lineNumbers, placeholder } from '@codemirror/view';
  import { untrack } from 'svelte';
  import { confineCss, type CssProblem } from '$lib/core/styles/confine';
  import type { KnownName } from '$lib/core/styles/known';
  import { unknownVariables } from '$lib/core/styles/unknown-variables';

  let {
    value,
    label,
    variables,
    selectors,
    onchange,
  }: {
    value: string;
    label: string;
    /** Names that are offered while typing: variables of the theme, and the element's boxes as selectors. */
    variables: readonly KnownName[];
    selectors: readonly KnownName[];
    onchange: (css: string) => void;
  } = $props();

  let view: EditorView | undefined = $state.raw();
  let sent = '';
  const problems: readonly CssProblem[] = $derived(
    value.trim() ? [...confineCss(value, 'element').problems, ...unknownVariables(value, variables)] : [],
  );

  /** Whether a place is within braces, where declarations stand. */
  const isWithin = (text: string) => text.lastIndexOf('{') > text.lastIndexOf('}');
  function offer(context: CompletionContext): CompletionResult | null {
    const before = context.state.sliceDoc(0, context.pos);
    if (isWithin(before)) {
      const word = context.matchBefore(/--[\w-]*/) ?? context.matchBefore(/var\([\w-]*/);
      if (!word) return null;
      const inVar = /var\(\s*$/.test(context.state.sliceDoc(0, word.from)) || word.text.startsWith('var(');
      return {
        from: word.from,
        options: variables.map(({ name, says }) => ({
          label: name,
          detail: says,
          type: 'variable',
          apply: word.text.startsWith('var(') ? `var(${name})` : inVar ? name : `var(${name})`,
        })),
        filter: !word.text.startsWith('var('),
      };
    }
    const word = context.matchBefore(/[&.\w-][^{},]*/);
    if (!word && !context.explicit) return null;
    return {
      from: word?.from ?? context.pos,
      options: selectors.map(({ name, says }) => ({ label: name, detail: says, type: 'class' })),
    };
  }

  const mount = (element: HTMLElement) => untrack(() => begin(element));
  function begin(parent: HTMLElement) {
    sent = value;
    const made = new EditorView({
      parent,
      state: EditorState.create({
        doc: value,
        extensions: [
          lineNumbers(),
          history(),
          // Tab goes on to the next control, as everywhere else.
          keymap.of([...completionKeymap, ...defaultKeymap, ...historyKeymap]),
          css(),
          // Named here alone, so that what is offered is what there is.
          autocompletion({ override: [offer], icons: false }),
          syntaxHighlighting(defaultHighlightStyle),
          lintGutter(),
          placeholder('& { letter-spacing: .02em }\na:hover { text-decoration: none }'),
          EditorView.contentAttributes.of({ 'aria-label': label }),
          EditorView.updateListener.of((update) => {
            if (!update.docChanged) return;
            sent = update.state.doc.toString();
            onchange(sent);
          }),
          EditorView.theme({
            '&': { fontSize: '12px', backgroundColor: 'var(--color-paper)' },
            '.cm-placeholder': { color: 'var(--color-faded)' },
            '.cm-content': { fontFamily: 'var(--font-mono)' },
            '.cm-gutters': { backgroundColor: 'var(--color-linen)', color: 'var(--color-faded)', border: 'none' },
            '.cm-tooltip.cm-tooltip-autocomplete': {
              backgroundColor: 'var(--color-paper)',
              border: '1px solid var(--color-hairline)',
              '& > ul': { fontFamily: 'var(--font-mono)', maxHeight: '9rem' },
              '& > ul > li': { padding: '2px 8px', color: 'var(--color-ink)' },
              '& > ul > li[aria-selected]': { backgroundColor: 'var(--color-linen-deep)', color: 'var(--color-ink)' },
            },
            '.cm-completionDetail': { color: 'var(--color-faded)', fontStyle: 'normal', marginLeft: '1rem' },
            '.cm-completionMatchedText': { textDecoration: 'none', fontWeight: '600' },
            '&.cm-focused': { outline: '2px solid var(--color-plum)' },
          }),
        ],
      }),
    });
    view = made;
    return () => made.destroy();
  }

  $effect(() => {
    if (view && value !== sent) {
      sent = value;
      view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: value } });
    }
  });
  $effect(() => {
    const now = problems;
    if (!view) return;
    const { doc } = view.state;
    const marks = now.map(({ line, column, what }): Diagnostic => {
      const at = doc.line(Math.min(doc.lines, Math.max(1, line)));
      const from = Math.min(at.to, at.from + Math.max(0, column - 1));
      return { from, to: at.to, severity: 'error', message: what };
    });
    view.dispatch(setDiagnostics(view.state, marks));
  });
</script>

<div class="flex flex-col gap-1.5 px-3 py-2">
  <p class="text-xs text-faded">
    Works on this element and what it holds, nowhere else. <code class="font-mono">&amp;</code> is the element itself;
    <code class="font-mono">--</code> offers what the theme has.
  </p>
  <div class="max-h-48 min-h-20 overflow-auto rounded-sm border border-hairline" {@attach mount}></div>
  {#each problems as problem, i (i)}
    <p class="rounded-sm bg-ochre px-2 py-0.5" data-css-problem>Line {problem.line}: {problem.what}</p>
  {/each}
</div>
