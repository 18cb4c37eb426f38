<script lang="ts">
  import { onDestroy, onMount } from 'svelte';
  import { Button, Input, Kbd, Select } from 'flowbite-svelte';
  import Modal from '../shared/Modal.svelte';
  import { api, ofCaptured, told } from '../api/client';
  import type { WaveView } from '../api/types.gen';
  import { levelText, type Bench } from '../bench/bench.svelte';
  import { engineering } from '../shared/format';
  import { site } from '../shared/site.svelte';
  import Compared from '../signals/Compared.svelte';
  import Trace from '../signals/Trace.svelte';
  import { sound } from './sound.svelte';

  /** The computer's own sound as an injector and as a tracer. */
  interface Props {
    bench: Bench;
    open: boolean;
    /** A recording, to be looked at, kept and logged; the factor brings it to volts. */
    onrecorded: (file: File, factor: string) => void;
  }
  let { bench, open = $bindable(), onrecorded }: Props = $props();

  let shape = $state('sine');
  let frequency = $state('1 kHz');
  let second = $state('7 kHz');
  let level = $state('-20 dB');
  let measured = $state('');
  let known = $state('');
  let input = $state('');
  let view: WaveView | null = $state.raw(null);
  let wrong = $state('');

  // It opens with what is fed in as the bench is set, and is left alone then.
  onMount(async () => {
    await sound.load();
    const fed = bench.view?.injected;
    if (fed?.hz) frequency = `${fed.hz} Hz`;
    if (fed?.level && sound.level(sound.output, 'out')) level = levelText(fed);
  });
  onDestroy(() => sound.hush()); // nobody is listened to unseen

  const out = $derived(sound.level(sound.output, 'out'));
  const into = $derived(sound.level(sound.listening, 'in'));
  const heard = $derived.by(() => view?.channels[0]);
  const figure = (key: string) => heard?.list.find((f) => f.key === key)?.text ?? '';
  const two = $derived(shape === 'sweep' || shape === 'two tones');
  const one = $derived(shape !== 'pink noise');

  const play = () =>
    sound.play(
      { shape, frequency: one ? frequency : '', second: two ? second : '', level },
      `${shape}${one ? ` ${frequency}` : ''}, ${level}`,
    );
  const test = 0.5; // of full scale, played to calibrate
  const shortest = 0.4; // seconds that are measured
  async function calibrateOut() {
    wrong = '';
    try {
      sound.levels = await api.calibrateOut({ device: sound.output, measured, peak: test });
    } catch (error) {
      wrong = told(error);
    }
  }
  async function calibrateIn() {
    wrong = '';
    const file = sound.recorded(shortest);
    if (!file) {
      wrong = 'Listen for a moment first.';
      return;
    }
    try {
      sound.levels = await api.calibrateIn(file, { device: sound.listening, known });
    } catch (error) {
      wrong = told(error);
    }
  }

  // Twice a second what was heard last is measured, as long as the dialog is open.
  $effect(() => {
    if (!open || sound.listening === '') return;
    let busy = false;
    const timer = setInterval(() => {
      const file = sound.recorded(shortest);
      if (!file || busy) return;
      busy = true;
      api
        .readCapture(
          bench.number,
          file,
          ofCaptured({
            points: bench.aim && into ? [bench.aim] : [],
            said: { ...(into ? { factor: String(into.volts), unit: 'V' } : {}), mains: site.mains, pilot: site.pilot },
            conditions: bench.conditions,
          }),
        )
        .then(
          (answer) => (view = answer),
          (error: unknown) => (wrong = told(error)),
        )
        .finally(() => (busy = false));
    }, 500);
    return () => clearInterval(timer);
  });
  function record() {
    const file = sound.recorded(2) ?? sound.recorded(shortest);
    if (!file) {
      wrong = 'Nothing was heard yet. Listen for a moment first.';
      return;
    }
    open = false;
    onrecorded(file, into ? String(into.volts) : '');
  }
</script>

<Modal title="The computer's sound" bind:open size="xl">
  <div class="text-ink grid gap-6 md:grid-cols-2">
    <section aria-label="Feed in" class="flex flex-col gap-2">
      <h3 class="text-name font-bold">Feed in</h3>
      <p class="border-hazard border-l-4 pl-3">
        Through a coupling capacitor rated for the voltage at that point, from a low level up. Never into a set whose
        chassis is connected to the mains, nor into its live side, without an isolating transformer: the computer is
        grounded. Local codes and licensed practice come first.
      </p>
      <div class="grid grid-cols-2 gap-3">
        <label
          >What
          <Select placeholder="" class="mt-1" bind:value={shape}>
            {#each sound.levels?.shapes ?? ['sine'] as name (name)}<option value={name}>{name}</option>{/each}
          </Select></label
        >
        <label>Level<Input class="figure mt-1" bind:value={level} placeholder={out ? '100 mV' : '-20 dB'} /></label>
        {#if one}
          <label>{two ? 'First frequency' : 'Frequency'}<Input class="figure mt-1" bind:value={frequency} /></label>
        {/if}
        {#if two}<label>Second frequency<Input class="figure mt-1" bind:value={second} /></label>{/if}
      </div>
      <div class="flex flex-wrap items-center gap-3">
        <Button type="button" onclick={() => void play()}>{sound.playing ? 'Play this instead' : 'Play'}</Button>
        {#if sound.playing}
          <Button color="alternative" type="button" onclick={() => sound.mute()}
            >{sound.muted ? 'Sound again' : 'Mute'} <Kbd>z</Kbd></Button
          >
          <Button color="alternative" type="button" onclick={() => sound.stop()}>Stop</Button>
        {/if}
      </div>
      <p role="status" data-test="playing">
        {sound.playing
          ? `${sound.muted ? 'Muted' : 'Playing'}: ${sound.playing}.`
          : 'Nothing is played. It comes up over half a second.'}
      </p>
      <details>
        <summary class="cursor-pointer underline decoration-dotted"
          >{out ? `Full scale is ${out.text}, as calibrated` : 'Calibrate it once, to say levels in volts'}</summary
        >
        <div class="mt-2 flex flex-wrap items-end gap-3">
          <Button
            color="alternative"
            type="button"
            onclick={() =>
              void sound.play(
                { shape: 'sine', frequency: '1 kHz', level: '-6.0206 dB' },
                'sine 1 kHz, half of full scale',
              )}>Play 1 kHz at half</Button
          >
          <label class="text-small text-soft"
            >A meter at the output shows<Input
              class="figure mt-0.5 w-36"
              size="sm"
              bind:value={measured}
              placeholder="0.35 Vrms"
            /></label
          >
          <Button color="alternative" type="button" onclick={() => void calibrateOut()}>Keep</Button>
        </div>
        <p class="text-small text-soft mt-1">Leave the system's volume as it stands from then on.</p>
      </details>
    </section>

    <section aria-label="Listen" class="flex flex-col gap-2">
      <h3 class="text-name font-bold">Listen</h3>
      <p class="border-hazard border-l-4 pl-3">
        A sound input bears a volt or two: divide what may be more, and block DC with a capacitor rated for it. It is
        grounded too.
      </p>
      <div class="flex flex-wrap items-end gap-3">
        {#if sound.inputs.length > 1}
          <label
            >Input
            <Select placeholder="" class="mt-1 w-56" bind:value={input}>
              <option value="">as the system has it</option>
              {#each sound.inputs as device (device.id)}<option value={device.id}>{device.name}</option>{/each}
            </Select></label
          >
        {/if}
        <Button type="button" onclick={() => void sound.listen(input)}
          >{sound.listening ? 'Listen anew' : 'Listen'}</Button
        >
        {#if sound.listening}
          <Button color="alternative" type="button" onclick={() => sound.hush()}>Stop listening</Button>
        {/if}
      </div>
      {#if sound.listening}
        <p class="text-small text-soft">{sound.listening}</p>
        {#if heard}
          <p class="text-say" data-test="heard">
            <span class="figure font-semibold">{figure('ac')}</span>
            rms{figure('frequency') ? `, ${figure('frequency')}` : ''}
          </p>
          <Trace strip={heard.few} unit={heard.unit} label="What is heard" height={110} />
          {#if into && heard.comparison}
            <Compared comparison={heard.comparison} against={heard.against} at={bench.aim} />
          {/if}
        {/if}
        <div>
          <Button type="button" onclick={record}>Take what was heard{bench.aim ? ` at ${bench.aim}` : ''}</Button>
        </div>
        <details>
          <summary class="cursor-pointer underline decoration-dotted"
            >{into ? `Full scale is ${into.text}, as calibrated` : 'Calibrate it once, to read volts'}</summary
          >
          <div class="mt-2 flex flex-wrap items-end gap-3">
            <label class="text-small text-soft"
              >Now at the input<Input
                class="figure mt-0.5 w-36"
                size="sm"
                bind:value={known}
                placeholder="100 mVrms"
              /></label
            >
            <Button color="alternative" type="button" onclick={() => void calibrateIn()}>Keep</Button>
          </div>
        </details>
      {/if}
      <p class="text-small text-soft">
        What it cannot: nothing below some 20 Hz nor above 20 kHz, no DC. What is played leaves the computer about {engineering(
          Math.max(sound.latency, 0.01),
          's',
        )} late and comes back late as well, so that delays between the two are not read this way.
      </p>
    </section>
  </div>
  {#if sound.trouble || wrong}<p class="text-fault mt-2 font-semibold" role="alert">{sound.trouble || wrong}</p>{/if}
</Modal>
