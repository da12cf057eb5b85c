// Writes what the API says of each field, its title, unit and limits, as src/api/fields.ts.
import { readFileSync, writeFileSync } from 'node:fs'

const { components } = JSON.parse(readFileSync('openapi.json', 'utf8'))
const out = {}
for (const [type, schema] of Object.entries(components.schemas)) {
  for (const [field, s] of Object.entries(schema.properties ?? {})) {
    const said = {
      title: s.title,
      unit: s['x-unit'],
      min: s.minimum,
      max: s.maximum,
      longest: s.maxLength,
      pattern: s.pattern,
    }
    for (const k of Object.keys(said)) if (said[k] === undefined) delete said[k]
    if (said.title) out[`${type}.${field}`] = said
  }
}
const text = JSON.stringify(out, null, 2)
writeFileSync(
  'src/api/fields.ts',
  `// Written by scripts/fields.mjs from the description of the API; make api.\n\n` +
    `export type FieldSaid = { title: string; unit?: string; min?: number; max?: number; longest?: number; pattern?: string }\n\n` +
    `export const fields: Record<string, FieldSaid> = ${text}\n`,
)
