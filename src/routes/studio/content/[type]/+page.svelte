<script lang="ts">
  import { kindOf } from '$lib/core/model/model';
  import { indexModel } from '$lib/core/model/model';

  let { data } = $props();

  const index = $derived(indexModel(data.model));
  const columns = $derived(
    data.type.fields.filter((field) => !['relation', 'longtext', 'link', 'picture'].includes(field.kind)).slice(0, 5),
  );
  const pictureField = $derived(data.type.fields.find((field) => field.kind === 'picture'));
  const words = (value: unknown, field: (typeof columns)[number]) => {
    const known = kindOf(field);
    if (value === undefined || !known) return '';
    return known.kind.text(value, known.settings, { model: index, record: () => undefined, media: () => undefined });
  };
  const to = (page: number) =>
    `?${new URLSearchParams({ ...(data.search ? { search: data.search } : {}), page: String(page) })}`;
</script>

<svelte:head><title>{data.type.plural} · Plum Thread</title></svelte:head>

<main class="min-h-0 grow overflow-y-auto">
  <div class="mx-auto max-w-6xl px-8 py-7">
    <div class="flex items-end gap-4">
      <h1 class="text-3xl font-medium">{data.type.plural}</h1>
      <span class="pb-1 text-faded">{data.total}</span>
      <form class="ml-auto" role="search">
        <input
          type="search"
          name="search"
          value={data.search}
          placeholder="Find by title"
          aria-label="Find by title"
          class="w-56"
        />
      </form>
      <a class="pb-1 text-plum underline underline-offset-2" href="/studio/content/{data.type.id}/fields">Fields</a>
      <a
        href="/studio/content/{data.type.id}/new"
        class="inline-flex h-7 items-center rounded-sm bg-plum px-2.5 font-medium text-paper hover:bg-plum-deep"
        >New {data.type.name.toLowerCase()}</a
      >
    </div>
    {#if data.records.length}
      <table class="mt-5 w-full border-collapse border border-hairline bg-paper text-left">
        <thead>
          <tr class="dye-label bg-linen-deep">
            {#if pictureField}<th class="w-14 py-2 pl-3"><span class="sr-only">{pictureField.label}</span></th>{/if}
            <th class="px-3 py-2 font-semibold">Title</th>
            {#each columns as field (field.id)}<th
                class="px-3 py-2 font-semibold {field.kind === 'number' ? 'text-right' : ''}">{field.label}</th
              >{/each}
            <th class="px-3 py-2 font-semibold">Status</th>
          </tr>
        </thead>
        <tbody>
          {#each data.records as record (record.id)}
            <tr class="border-t border-hairline hover:bg-linen">
              {#if pictureField}
                {@const picture = record.values[pictureField.id]}
                <td class="py-1 pl-3"
                  >{#if typeof picture === 'number'}<img
                      src="/media/{picture}/320.webp"
                      alt=""
                      class="h-8 w-12 rounded-sm object-cover"
                    />{/if}</td
                >
              {/if}
              <td class="max-w-80 px-3 py-1.5"
                ><a
                  class="block truncate font-medium underline-offset-2 hover:underline"
                  title={record.title}
                  href="/studio/content/{data.type.id}/{record.id}">{record.title}</a
                ></td
              >
              {#each columns as field (field.id)}
                <td
                  class="max-w-48 truncate px-3 py-1.5 whitespace-nowrap {field.kind === 'number'
                    ? 'text-right tabular-nums'
                    : ''}">{words(record.values[field.id], field)}</td
                >
              {/each}
              <td class="px-3 py-1.5 {record.status === 'draft' ? 'text-weld italic' : 'text-faded'}"
                >{record.status === 'draft' ? 'Draft' : 'Published'}</td
              >
            </tr>
          {/each}
        </tbody>
      </table>
      {#if data.pages > 1}
        <nav aria-label="Pages" class="mt-3 flex items-center gap-3">
          {#if data.page > 1}<a class="text-plum underline" href={to(data.page - 1)}>Previous page</a>{/if}
          <span class="text-faded">Page {data.page} of {data.pages}</span>
          {#if data.page < data.pages}<a class="text-plum underline" href={to(data.page + 1)}>Next page</a>{/if}
        </nav>
      {/if}
    {:else if data.search}
      <p class="mt-8 text-faded">
        No {data.type.name.toLowerCase()} has “{data.search}” in its title.
        <a class="text-plum underline" href="/studio/content/{data.type.id}">Show all</a>
      </p>
    {:else}
      <p class="mt-8 font-display text-2xl">No {data.type.plural.toLowerCase()} yet.</p>
      <p class="mt-1 text-faded">Nothing can be designed well without a few real records.</p>
      <a
        href="/studio/content/{data.type.id}/new"
        class="mt-4 inline-flex h-8 items-center rounded-sm bg-plum px-3 font-medium text-paper hover:bg-plum-deep"
        >Begin with one</a
      >
    {/if}
  </div>
</main>
