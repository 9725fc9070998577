<script lang="ts">
  import { CURRENCIES, isCurrency } from '$lib/core/base/money';
  import { kindOf } from '$lib/core/model/field';
  import type { InputProps } from './input';

  let { field, settings, value, id, invalid, describedby, onchange }: InputProps = $props();

  const usual = $derived(typeof settings.currency === 'string' ? settings.currency : 'EUR');
  const parts = $derived(typeof value === 'string' ? value.split(' ') : []);
  const amount = $derived(parts[0] ?? '');
  /** A currency that was chosen before there is an amount. */
  let chosen = $state('');
  const currency = $derived(parts[1] ?? (chosen || usual));

  const names = new Intl.DisplayNames('en-GB', { type: 'currency' });
  const nameOf = (code: string) => (isCurrency(code) ? (names.of(code) ?? code) : code);
  const all = CURRENCIES.map((code) => ({ code, name: nameOf(code) }));

  /** Read as the cell of a table is, so that a comma is a decimal sign, and a currency may be typed with it. */
  const change = (text: string, code: string) => {
    const typed = text.trim();
    const read = kindOf(field)?.kind.fromCell?.(typed, { ...settings, currency: code });
    onchange(!typed ? null : read === typed && !typed.endsWith(code) ? `${typed} ${code}` : read);
  };
</script>

<span class="flex items-center gap-2">
  <input
    {id}
    type="text"
    inputmode="decimal"
    class="w-32 min-w-24 text-right"
    placeholder="12.50"
    aria-invalid={invalid}
    aria-describedby={describedby}
    value={amount}
    onchange={(e) => change(e.currentTarget.value, currency)}
  />
  {#if settings.only}
    <span title={nameOf(usual)}>{currency}</span>
  {:else}
    <select
      class="w-24"
      aria-label="Currency of {field.label}"
      title={nameOf(currency)}
      value={currency}
      onchange={(e) => {
        chosen = e.currentTarget.value;
        if (amount) change(amount, chosen);
      }}
    >
      <option value={usual}>{usual}</option>
      <hr />
      {#each all.filter(({ code }) => code !== usual) as { code, name } (code)}
        <option value={code}>{code}, {name}</option>
      {/each}
    </select>
  {/if}
</span>
