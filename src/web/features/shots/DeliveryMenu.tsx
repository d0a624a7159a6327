/** What the client asked for, and where the set is not so yet. */
import { fieldProblem } from '../../../core/base/issues.js';
import { type ReactNode, useMemo } from 'react';
import { Popover } from 'radix-ui';
import { DELIVERY_FILE_TYPES, type Delivery, deliveryFindings, deliverySchema } from '../../../core/plan/delivery.js';
import { COMMON_RATES, parseRate, rateName } from '../../../core/units/rate.js';
import { readSizes } from '../../../core/plan/sizes.js';
import { useWorkspace } from '../../app/workspace.js';
import { TextField, Checkbox } from '../../ui/controls.js';
import { PresetMenu } from '../../ui/PresetMenu.js';

const FILE_WORDS: Record<(typeof DELIVERY_FILE_TYPES)[number], string> = {
  'png 8': 'PNG, 8 bits',
  'png 16': 'PNG, 16 bits',
  'jpeg 8': 'JPEG',
  'exr 16': 'OpenEXR, half',
  'exr 32': 'OpenEXR, float',
};

function words(list: string[] | undefined): string {
  return (list ?? []).join(', ');
}

function listOf(text: string): string[] {
  return text
    .split(/[,;]/)
    .map((t) => t.trim())
    .filter((t) => t !== '');
}

function ClientDelivery({ delivery, onChange }: { delivery: Delivery; onChange: (values: Partial<Delivery>) => string | null }): ReactNode {
  const files = delivery.files ?? [];
  return (
    <>
      <TextField label="Asked by" help="For whom, or which of their deliveries." value={delivery.name} onValue={(name) => onChange({ name })} />
      <TextField
        label="Sizes"
        help="Sizes that are taken, as 1920x1080, 1080x1080. Empty: any."
        mono
        value={words(delivery.sizes?.map((s) => `${s.width}x${s.height}`))}
        onValue={(text) => {
          const sizes = readSizes(text);
          return typeof sizes === 'string' ? sizes : onChange({ sizes: sizes.length > 0 ? sizes : undefined });
        }}
      />
      <TextField
        label="Rates"
        help={`Frames a second that are taken: ${COMMON_RATES.map(rateName).join(', ')} or another. Empty: any.`}
        mono
        value={words(delivery.rates?.map(rateName))}
        onValue={(text) => {
          const rates = listOf(text).map((t) => COMMON_RATES.find((r) => rateName(r) === t) ?? t);
          try {
            rates.forEach(parseRate);
          } catch (e) {
            return (e as Error).message;
          }
          return onChange({ rates: rates.length > 0 ? rates : undefined });
        }}
      />
      <fieldset>
        <legend className="font-head text-xs font-medium text-graphite">Files that must be there</legend>
        <div className="grid grid-cols-2">
          {DELIVERY_FILE_TYPES.map((f) => (
            <Checkbox
              key={f}
              label={FILE_WORDS[f]}
              checked={files.includes(f)}
              onChecked={(on) => {
                const next = DELIVERY_FILE_TYPES.filter((x) => (x === f ? on : files.includes(x)));
                onChange({ files: next.length > 0 ? next : undefined });
              }}
            />
          ))}
        </div>
      </fieldset>
      <TextField
        label="File names"
        help="As asked for, without folders and ending: * stands for anything, # for one digit. Empty: any."
        mono
        value={delivery.names ?? ''}
        onValue={(names) => onChange({ names: names.trim() === '' ? undefined : names.trim() })}
      />
      <div className="grid grid-cols-2 gap-3">
        <TextField
          label="Longest movie, s"
          help="Seconds. Empty: any."
          mono
          value={delivery.maxSeconds === undefined ? '' : String(delivery.maxSeconds)}
          onValue={(text) => onChange({ maxSeconds: text.trim() === '' ? undefined : Number(text) })}
        />
        <TextField
          label="Most pictures"
          help="Of the whole set. Empty: any number."
          mono
          value={delivery.maxFrames === undefined ? '' : String(delivery.maxFrames)}
          onValue={(text) => onChange({ maxFrames: text.trim() === '' ? undefined : Number(text) })}
        />
      </div>
      <Checkbox
        label="Movies as H.264"
        help="Moving shots must have a size that the codec takes: even, at most 4096 × 2304."
        checked={delivery.movie !== undefined}
        onChecked={(on) => onChange({ movie: on ? 'h264' : undefined })}
      />
      <Checkbox
        label="Clear backdrop"
        help="Pictures must have alpha."
        checked={delivery.alpha === true}
        onChecked={(on) => onChange({ alpha: on ? true : undefined })}
      />
    </>
  );
}

export function DeliveryMenu(): ReactNode {
  const { plan, frames } = useWorkspace();
  const { file, edit } = plan!;
  const { delivery } = file;
  const findings = useMemo(
    () => (delivery ? deliveryFindings(delivery, file.sheet, file.shots, frames) : []),
    [delivery, file.sheet, file.shots, frames],
  );
  const put = (next: Delivery | undefined): string | null => edit((f) => ({ ...f, delivery: next }));
  const change = (values: Partial<Delivery>): string | null => {
    const read = deliverySchema.safeParse({ ...delivery, ...values });
    return read.success ? put(read.data) : fieldProblem(read.error);
  };
  const state = !delivery
    ? 'Delivery: nothing asked'
    : findings.length === 0
      ? `As ${delivery.name} asks`
      : `${findings.length} not as ${delivery.name} asks`;
  return (
    <Popover.Root>
      <Popover.Trigger className={`max-w-60 truncate text-sm underline ${findings.length > 0 ? 'text-ochre' : 'text-cobalt'}`}>
        {state}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          aria-label="Delivery"
          className="z-40 flex max-h-[70vh] w-80 flex-col gap-2 overflow-auto border border-graphite bg-chalk p-3"
        >
          <Checkbox
            label="The client asked for"
            help="Recorded once and checked as the set is planned."
            checked={delivery !== undefined}
            onChecked={(on) => put(on ? { name: 'the client' } : undefined)}
          />
          {findings.length > 0 && (
            <ul className="border-y border-rule py-1 text-sm" aria-label="Not as asked">
              {findings.slice(0, 30).map((f, i) => (
                <li key={i} className="py-0.5">
                  <span className="text-ochre">{f.message}</span> {f.fix}
                </li>
              ))}
            </ul>
          )}
          {delivery && <ClientDelivery delivery={delivery} onChange={change} />}
          <p className="text-sm">
            Deliveries: <PresetMenu kind="delivery" what="delivery" {...(delivery && { body: delivery })} onUse={(body) => put(body)} />
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
