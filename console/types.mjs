// Makes src/generated/api.ts from the document of the service's interface. What the service answers is whole: every
// property is there, or it would not be declared. What it is asked may leave out anything.
import { readFileSync, writeFileSync } from 'node:fs'
import openapiTS, { astToString } from 'openapi-typescript'

const document = JSON.parse(readFileSync('../service/target/openapi/openapi.json', 'utf8'))
for (const [name, schema] of Object.entries(document.components.schemas)) {
  if (schema.properties) {
    schema.required = /(Request|^Change)$/.test(name) ? [] : Object.keys(schema.properties)
  }
}
writeFileSync('src/generated/api.ts', astToString(await openapiTS(document)))
