<script lang="ts">
  import { link, router } from 'svelte-spa-router';
  import Page from '../shared/Page.svelte';
  import Begin from './Begin.svelte';

  const sheet = Number(new URLSearchParams(router.querystring).get('sheet') ?? 0);
</script>

<Page title="New job" here="">
  <div class="mx-auto max-w-2xl p-[18px]">
    <Begin {sheet} />
    <p class="text-small text-soft mt-6">
      Have the manual at hand? <a use:link href="/sheets/new" class="text-measured underline">Make its sheet</a>: paste
      a table from it or from a spreadsheet.
    </p>
  </div>
</Page>
