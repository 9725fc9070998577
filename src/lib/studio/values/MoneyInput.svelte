<script lang="ts">
  import { isCurrency } from '$lib/core/base/money';
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
  const all = Intl.supportedValuesOf('currency').map((code) => ({ code, name: nameOf(code) }));

  /** A comma is a point here, as it is on many keyboards. */
  const change = (text: string, code: string) => {
    const plain = text.trim().replace(/^(-?\d+),(\d+)$/, '$1.$2');
    onchange(plain ? `${plain} ${code}` : null);
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
