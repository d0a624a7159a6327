/** What the client asked for, and where the set is not so yet. */
import { fieldProblem } from '../../../core/base/issues.js';
import { type ReactNode, useMemo } from 'react';
import { Popover } from 'radix-ui';
import { DELIVERY_FILE_TYPES } from '../../../core/image/fileTypes.js';
import { type Delivery, deliveryFindings, deliverySchema } from '../../../core/plan/delivery.js';
import { COMMON_RATES, parseRate, rateName } from '../../../core/units/rate.js';
import { readSizes } from '../../../core/plan/sizes.js';
import { useWorkspace } from '../../app/workspace.js';
import { TextField, Checkbox } from '../../ui/controls.js';
import { PresetMenu } from '../../ui/PresetMenu.js';
import { fileTypeWords } from './sheetSummary.js';
import { HELP, LABELS, MESSAGES } from './sheetWords.js';

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
      <TextField label={LABELS.client} help={HELP.client} value={delivery.name} onValue={(name) => onChange({ name })} />
      <TextField
        label={LABELS.sizes}
        help={HELP.sizes}
        mono
        value={words(delivery.sizes?.map((s) => `${s.width}x${s.height}`))}
        onValue={(text) => {
          const sizes = readSizes(text);
          return typeof sizes === 'string' ? sizes : onChange({ sizes: sizes.length > 0 ? sizes : undefined });
        }}
      />
      <TextField
        label={LABELS.rates}
        help={HELP.rates(COMMON_RATES.map(rateName).join(', '))}
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
        <legend className="font-head text-xs font-medium text-graphite">{LABELS.requiredFileTypes}</legend>
        <div className="grid grid-cols-2">
          {DELIVERY_FILE_TYPES.map((f) => (
            <Checkbox
              key={f}
              label={fileTypeWords(f)}
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
        label={LABELS.fileNames}
        help={HELP.fileNames}
        mono
        value={delivery.names ?? ''}
        onValue={(names) => onChange({ names: names.trim() === '' ? undefined : names.trim() })}
      />
      <div className="grid grid-cols-2 gap-3">
        <TextField
          label={LABELS.longestMovie}
          help={HELP.longestMovie}
          mono
          value={delivery.maxSeconds === undefined ? '' : String(delivery.maxSeconds)}
          onValue={(text) => onChange({ maxSeconds: text.trim() === '' ? undefined : Number(text) })}
        />
        <TextField
          label={LABELS.maximumRenders}
          help={HELP.maximumRenders}
          mono
          value={delivery.maxFrames === undefined ? '' : String(delivery.maxFrames)}
          onValue={(text) => onChange({ maxFrames: text.trim() === '' ? undefined : Number(text) })}
        />
      </div>
      <Checkbox
        label={LABELS.h264Movies}
        help={HELP.h264Movies}
        checked={delivery.movie !== undefined}
        onChecked={(on) => onChange({ movie: on ? 'h264' : undefined })}
      />
      <Checkbox
        label={LABELS.transparentBackdrop}
        help={HELP.transparentBackdrop}
        checked={delivery.alpha === true}
        onChecked={(on) => onChange({ alpha: on ? true : undefined })}
      />
    </>
  );
}

/** What the client asks for, and whether the set is that. */
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
    ? MESSAGES.clientDeliveryNotSet
    : findings.length === 0
      ? LABELS.meets(delivery.name)
      : MESSAGES.doNotMeet(findings.length, delivery.name);
  return (
    <Popover.Root>
      <Popover.Trigger className={`max-w-60 truncate text-sm underline ${findings.length > 0 ? 'text-ochre' : 'text-cobalt'}`}>
        {state}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          aria-label={LABELS.clientDelivery}
          className="z-40 flex max-h-[70vh] w-80 flex-col gap-2 overflow-auto border border-graphite bg-chalk p-3"
        >
          <Checkbox
            label={LABELS.checkClientDelivery}
            help={HELP.clientDelivery}
            checked={delivery !== undefined}
            onChecked={(on) => put(on ? { name: LABELS.theClient } : undefined)}
          />
          {findings.length > 0 && (
            <ul className="border-y border-rule py-1 text-sm" aria-label={LABELS.notMet}>
              {findings.slice(0, 30).map((f, i) => (
                <li key={i} className="py-0.5">
                  <span className="text-ochre">{f.message}</span> {f.fix}
                </li>
              ))}
            </ul>
          )}
          {delivery && <ClientDelivery delivery={delivery} onChange={change} />}
          <p className="text-sm">
            {MESSAGES.savedDeliveries}{' '}
            <PresetMenu kind="delivery" what="delivery" {...(delivery && { body: delivery })} onUse={(body) => put(body)} />
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
