/** How a movie is encoded, played, and what is laid over it. */
import type { ReactNode } from 'react';
import type { SoundReply, TextureReply } from '../../../contract/contract.js';
import { CODEC_LIST } from '../../../core/movie/movieOptions.js';
import { SOUND_ENDINGS } from '../../../core/movie/sound.js';
import { useWorkspace } from '../../app/workspace.js';
import { type FieldSpec, FormFields } from '../../forms/FormFields.js';
import { Checkbox, Select } from '../../ui/controls.js';
import { Attached } from './Attached.js';
import { ENCODING, LINE, LOGO, LOOK, NO_LOGO, NO_SOUND, PLAYING, type Shown, SLATE, SOUND } from './movieForm.js';
import { HELP, LABELS, MESSAGES } from './movieWords.js';
import type { MovieForm } from './useMovieForm.js';

/**
 * The fields of a movie's form.
 * @param batch id of the batch that it is made of.
 */
export function MovieFields({ form: { shown, put }, batch }: { form: Pick<MovieForm, 'shown' | 'put'>; batch: number | undefined }): ReactNode {
  const { batches } = useWorkspace();
  const others = batches.filter((b) => b.id !== batch && b.done > 0);
  const rows = (fields: readonly FieldSpec<Shown>[]): ReactNode => (
    <div className="grid grid-cols-4 gap-x-4 gap-y-3">
      <FormFields fields={fields} values={shown} put={put} />
    </div>
  );
  return (
    <>
      {rows(ENCODING)}
      {rows(PLAYING)}
      {rows(LOOK)}
      {others.length > 0 && (
        <div className="grid grid-cols-4 gap-x-4">
          <div className="col-span-2">
            <Select
              label={LABELS.beside}
              help={HELP.beside}
              value={shown.beside}
              options={[
                { value: '', label: LABELS.nothingBeside },
                ...others.map((b) => ({ value: String(b.id), label: LABELS.batchBeside(b.revision, b.number) })),
              ]}
              onValue={(beside) => put({ beside })}
            />
          </div>
        </div>
      )}
      <Checkbox
        label={LABELS.slate}
        help={HELP.slate}
        checked={shown.slateText !== ''}
        onChecked={(on) => put({ slateText: on ? '{project} | {set}, {shot} | revision {revision} | {size}' : '' })}
      />
      {shown.slateText !== '' && rows(SLATE)}
      <Checkbox
        label={LABELS.burnIn}
        help={HELP.burnIn}
        checked={shown.text !== ''}
        onChecked={(on) => put({ text: on ? '{project} {revision} · {timecode}' : '' })}
      />
      {shown.text !== '' && rows(LINE)}
      <Attached<TextureReply>
        path="/textures"
        accept=".png,.jpg,.jpeg,.webp"
        words={{ title: LABELS.logo, file: LABELS.logoFile, choose: LABELS.chooseLogo, remove: LABELS.removeLogo, none: MESSAGES.noLogo }}
        name={shown.logoName}
        onFile={({ file }, name) => put({ logoFile: file, logoName: name })}
        onRemove={() => put(NO_LOGO)}
      >
        <FormFields fields={LOGO} values={shown} put={put} />
      </Attached>
      {CODEC_LIST[shown.codec].sound && (
        <Attached<SoundReply>
          path="/sounds"
          accept={SOUND_ENDINGS.map((e) => `.${e}`).join()}
          words={{ title: LABELS.sound, file: LABELS.soundFile, choose: LABELS.chooseSound, remove: LABELS.removeSound, none: MESSAGES.noSound }}
          name={shown.soundName}
          onFile={({ file }, name) => put({ soundFile: file, soundName: name })}
          onRemove={() => put(NO_SOUND)}
        >
          <FormFields fields={SOUND} values={shown} put={put} />
        </Attached>
      )}
    </>
  );
}
