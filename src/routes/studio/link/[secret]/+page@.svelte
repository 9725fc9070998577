<script lang="ts">
  import '../../../../app.css';
  import EmailField from '$lib/studio/people/EmailField.svelte';
  import Gate from '$lib/studio/people/Gate.svelte';
  import PasswordField from '$lib/studio/people/PasswordField.svelte';
  import Button from '$lib/ui/Button.svelte';

  let { data, form } = $props();

  const problems = $derived(form && 'problems' in form ? (form.problems ?? []) : []);
  const given = $derived(form as { name?: string; email?: string } | null);
  const wrong = (at: string) => problems.find((one) => one.at === at);
</script>

<svelte:head><meta name="referrer" content="no-referrer" /></svelte:head>

{#snippet told()}
  {#if form?.refused}<p role="alert" class="mt-3 rounded-sm bg-ochre px-3 py-2">{form.refused}</p>{/if}
{/snippet}

{#snippet tokens()}
  <label class="flex items-baseline gap-2"
    ><input type="checkbox" name="tokens" value="stay" /><span>My tokens for programs stay as they are</span></label
  >
{/snippet}

{#if data.purpose === 'owner'}
  <Gate title="The first account">
    <p class="mt-1 text-faded">You will be the owner: who may do everything, and invites the others.</p>
    {@render told()}
    <form method="POST" action="?/owner" class="mt-4 space-y-3">
      <label class="block"
        ><span class="font-medium">Your name</span><input
          name="name"
          required
          maxlength="160"
          autocomplete="name"
          value={given?.name ?? ''}
          aria-invalid={wrong('name') ? 'true' : undefined}
          class="mt-1 block w-full"
        /></label
      >
      <EmailField value={given?.email} problem={wrong('email')} />
      <PasswordField fresh {problems} />
      <Button tone="main" type="submit">Begin</Button>
    </form>
  </Gate>
{:else if data.purpose === 'address' || data.purpose === 'join'}
  <Gate title={data.purpose === 'address' ? 'Your new address' : 'Sign in by your organisation'}>
    {@render told()}
    <form method="POST" action="?/{data.purpose}" class="mt-3 space-y-4">
      {#if data.purpose === 'address'}
        <p>{data.name}, you sign in with {data.email} from now on. Wherever you are signed in now, that ends.</p>
        <Button tone="main" type="submit">Use this address</Button>
      {:else}
        <p>
          {data.name}, {data.provider ?? 'the identity provider'} signs you in to this account from now on. Wherever you are
          signed in now, that ends.
        </p>
        {@render tokens()}
        <Button tone="main" type="submit">Join my account</Button>
      {/if}
    </form>
  </Gate>
{:else}
  <Gate title={data.purpose === 'reset' ? 'A new password' : `Welcome, ${data.name}`}>
    <p class="mt-1 text-faded">You sign in with {data.email}.</p>
    {@render told()}
    <form method="POST" action="?/password" class="mt-4 space-y-3">
      <input type="hidden" name="email" autocomplete="username" value={data.email} />
      <PasswordField fresh {problems} label="Choose a password" />
      {#if data.purpose === 'reset'}{@render tokens()}{/if}
      <Button tone="main" type="submit">Keep it and sign in</Button>
    </form>
  </Gate>
{/if}
