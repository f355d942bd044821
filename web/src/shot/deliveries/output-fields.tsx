/** The choices of one output of a delivery. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { fileName, outputFormats, type DeliveryOutput } from '../../../../core/delivery'
import { mediaKind, type Shot, sourcesByName } from '../../../../core/shot'
import { choicesOf, formatWords, valueOf, withFormat, withOf } from './output-choices'

interface ChoiceProps {
  readonly label: string
  readonly value: string | number
  readonly choices: readonly (readonly [value: string | number, label: string])[]
  readonly onChange: (value: string) => void
}

export function Choice({ label, value, choices, onChange }: ChoiceProps) {
  return (
    <TextField
      size="small"
      select
      label={label}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      sx={{ flex: 1, minWidth: 0 }}
    >
      {choices.map(([one, words]) => (
        <MenuItem key={one} value={one}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  )
}

interface OutputFieldsProps {
  readonly shot: Shot
  readonly output: DeliveryOutput
  /** of the example of a name */
  readonly first: number
  readonly version: number
  /** null for the only one */
  readonly onRemove: (() => void) | null
  readonly onChange: (output: DeliveryOutput) => void
}

export function OutputFields({ shot, output, first, version, onRemove, onChange }: OutputFieldsProps) {
  return (
    <Box
      role="group"
      aria-label={`Output ${output.name}`}
      sx={{ border: 1, borderColor: 'divider', borderRadius: 1, p: 1 }}
    >
      <Stack spacing={1}>
        <Stack direction="row" spacing={1}>
          {output.format !== 'proof' && (
            <Choice
              label="What"
              value={valueOf(output.of)}
              choices={choicesOf(shot).map(({ value, label }) => [value, label])}
              onChange={(value) => onChange(withOf(shot, output, value))}
            />
          )}
          <Choice
            label="Format"
            value={output.format}
            choices={outputFormats.map((format) => [format, formatWords[format]])}
            onChange={(format) => onChange(withFormat(output, outputFormats.find((one) => one === format) ?? 'exr'))}
          />
        </Stack>
        <FormatChoices shot={shot} output={output} onChange={onChange} />
        <TextField
          size="small"
          label="File name"
          value={output.pattern}
          onChange={(event) => onChange({ ...output, pattern: event.target.value })}
        />
        <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
          <Typography variant="caption" color="textSecondary" sx={{ overflowWrap: 'anywhere' }}>
            {fileName(shot.name, output, version, first)}
          </Typography>
          {onRemove && <Button onClick={onRemove}>Remove</Button>}
        </Stack>
      </Stack>
    </Box>
  )
}

/** Seen through a table, or as a screen shows it. */
function MovieChoices({
  shot,
  output,
  onChange,
}: Pick<OutputFieldsProps, 'shot' | 'onChange'> & { readonly output: Extract<DeliveryOutput, { format: 'movie' }> }) {
  const tables = sourcesByName(shot).filter(({ path }) => mediaKind(path) === 'table')
  const { table, ...without } = output
  return (
    <>
      {(tables.length > 0 || table !== undefined) && (
        <Choice
          label="Seen through"
          value={table ?? noTable}
          choices={[
            [noTable, 'sRGB'],
            ...tables.map(({ id, name }) => [id, `the table ${name}`] as const),
            ...(table !== undefined && !tables.some(({ id }) => id === table)
              ? [[table, 'a table that is gone'] as const]
              : []),
          ]}
          onChange={(value) => onChange(value === noTable ? without : { ...without, table: value })}
        />
      )}
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            color="default"
            checked={output.line}
            onChange={(event) => onChange({ ...output, line: event.target.checked })}
          />
        }
        label={<Typography variant="body2">burn in shot, version and frame</Typography>}
      />
    </>
  )
}

const noTable = 'none'

function FormatChoices({ shot, output, onChange }: Pick<OutputFieldsProps, 'shot' | 'output' | 'onChange'>) {
  if (output.format === 'proof')
    return (
      <Typography variant="caption" color="textSecondary">
        Every witness and check on every delivered frame, with pictures of the worst: a page, and the same as JSON.
      </Typography>
    )
  if (output.format === 'movie') return <MovieChoices {...{ shot, output, onChange }} />
  const encoding = (
    <Choice
      label="Encoding"
      value={output.encoding}
      choices={[
        ...(output.format === 'exr' ? ([['linear', 'linear light']] as const) : []),
        ['plate', 'as the plate'],
        ['view', 'as on the screen'],
      ]}
      onChange={(value) => onChange({ ...output, encoding: value as typeof output.encoding })}
    />
  )
  if (output.format !== 'exr') {
    const { format } = output
    return (
      <Stack direction="row" spacing={1}>
        {encoding}
        <Choice
          label="Bits"
          value={output.bits}
          choices={(format === 'dpx' ? [10, 16] : [8, 16]).map((bits) => [bits, `${bits} bits`])}
          onChange={(bits) => onChange({ ...output, bits: Number(bits) } as DeliveryOutput)}
        />
      </Stack>
    )
  }
  return (
    <>
      <Stack direction="row" spacing={1}>
        {encoding}
        <Choice
          label="Samples"
          value={output.samples}
          choices={[
            ['plate', 'as the plate'],
            ['half', 'half floats'],
            ['float', 'floats'],
          ]}
          onChange={(value) => onChange({ ...output, samples: value as typeof output.samples })}
        />
      </Stack>
      <Stack direction="row" spacing={1}>
        <Choice
          label="Compression"
          value={output.compression}
          choices={[
            ['zip', 'ZIP'],
            ['zips', 'ZIPS'],
            ['piz', 'PIZ'],
            ['none', 'none'],
          ]}
          onChange={(value) => onChange({ ...output, compression: value as typeof output.compression })}
        />
        <Choice
          label="Data window"
          value={output.window}
          choices={[
            ['frame', 'the frame'],
            ['content', 'its content'],
          ]}
          onChange={(value) => onChange({ ...output, window: value as typeof output.window })}
        />
      </Stack>
    </>
  )
}
