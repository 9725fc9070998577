<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import type { Model } from '$lib/core/schema/model';
  import type { Target } from '$lib/core/schema/target';
  import type { Template } from '$lib/core/schema/template';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import TargetsEditor from './TargetsEditor.svelte';

  let {
    template,
    model,
    onclose,
    onsaved,
  }: {
    template: Pick<Template, 'id' | 'name' | 'purpose' | 'serves' | 'except' | 'version'> | undefined;
    model: Model;
    onclose: () => void;
    /** Told what is kept now; without it the screen is read anew. */
    onsaved?: (template: Template) => void;
  } = $props();

  let serves: Target[] = $state([]);
  let except: Target[] = $state([]);
  let failed = $state('');
  let open = $state(false);
  $effect(() => {
    open = Boolean(template);
    serves = $state.snapshot(template?.serves ?? []) as Target[];
    except = $state.snapshot(template?.except ?? []) as Target[];
    failed = '';
  });

  async function save() {
    if (!template) return;
    failed = '';
    try {
      const { id, version } = template;
      const saved = await api('PUT /templates/{templateId}/serves', {
        templateId: id,
        body: { serves, except, version },
      });
      onclose();
      if (onsaved) onsaved(saved);
      else await invalidateAll();
    } catch (error) {
      failed = failureWords(error);
    }
  }
</script>

<Sheet
  bind:open
  wide
  title="What “{template?.name ?? ''}” serves"
  about="Chosen records go before rules, rules before terms, then authors, types, and everything. Visitors see it with the next release."
  {onclose}
>
  {#if template}
    <TargetsEditor {model} purpose={template.purpose} templateId={template.id} bind:serves bind:except />
    {#if failed}<p role="alert" class="mt-3 text-madder">{failed}</p>{/if}
    <div class="mt-5 flex justify-end gap-2">
      <Button onclick={onclose}>Cancel</Button><Button tone="main" onclick={save}>Keep it so</Button>
    </div>
  {/if}
</Sheet>
