<svg class="flex-none" width="30" height="26" viewBox="0 0 30 26" aria-hidden="true">
  <path d="M1 23H9V15H17V8H29" fill="none" class="stroke-expect" stroke-width="3" />
  <path d="M9 23h8v-4h12" fill="none" class="stroke-measured" stroke-width="3" />
</svg>
