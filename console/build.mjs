// Builds the console for Maven: installs packages when the lock file changed, builds when any source changed.
import { execSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

const run = (command) => execSync(command, { stdio: 'inherit' })

function filesBelow(path) {
  if (!existsSync(path)) return []
  return statSync(path).isDirectory()
    ? readdirSync(path)
        .sort()
        .flatMap((name) => filesBelow(join(path, name)))
    : [path]
}

function fingerprint(paths) {
  const hash = createHash('sha256')
  for (const file of paths.flatMap(filesBelow)) hash.update(file).update(readFileSync(file))
  return hash.digest('hex')
}

function once(name, paths, present, work) {
  const stamp = join('target', name + '.stamp')
  const now = fingerprint(paths)
  if (present && existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return
  work()
  mkdirSync('target', { recursive: true })
  writeFileSync(stamp, now)
}

once('packages', ['package-lock.json'], existsSync('node_modules'), () =>
  run('npm ci --no-fund --no-audit --loglevel=error'),
)
once(
  'console',
  ['package-lock.json', 'index.html', 'vite.config.ts', 'tsconfig.json', 'public', 'src'],
  existsSync('dist/index.html'),
  () => run('npm run --silent build'),
)

// Of what the console is made, and under which licences.
once('materials', ['package-lock.json'], existsSync('target/bom.json'), () => {
  const bom = execSync('npm sbom --sbom-format cyclonedx --sbom-type application --omit dev --loglevel=error', {
    maxBuffer: 1 << 28,
  })
  writeFileSync('target/bom.json', bom)
  const notices = (JSON.parse(bom).components ?? []).map(({ group, name, version, licenses = [] }) => {
    const folder = join('node_modules', group ? `${group}/${name}` : name)
    const text = existsSync(folder) && readdirSync(folder).find((file) => /^(licen[sc]e|notice)/i.test(file))
    const names = licenses.map(({ license, expression }) => expression ?? license.id ?? license.name).join(', ')
    return `${group ? group + '/' : ''}${name} ${version}: ${names || 'no licence named'}\n\n${text ? readFileSync(join(folder, text), 'utf8') : ''}`
  })
  writeFileSync('target/THIRD-PARTY.txt', notices.join('\n----\n\n'))
})
