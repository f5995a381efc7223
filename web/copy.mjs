/** Prints, as JSON, every string of the front end that a person may read: file, line and text. */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { parse } from '@vue/compiler-sfc'
import ts from 'typescript'

const ROOT = join(import.meta.dirname, 'src')
/** Attributes that are read out or shown; `:label` and the like are expressions and looked into. */
const READ =
  /^(label|placeholder|title|alt|hint|aria-label|text|name|heading|purpose|message|prefix|suffix|no-data-text)$/
const ELEMENT = 1
const TEXT = 2
const INTERPOLATION = 5
const DIRECTIVE = 7

const found = []
const keep = (file, line, text) => {
  const plain = text.replace(/\s+/g, ' ').trim()
  if (/\p{L}{2}/u.test(plain) && !plain.startsWith('(prefers-'))
    found.push({ file, line, text: plain })
}

/** Strings of a script: literals, and templates with what they hold left out. */
function ofScript(file, source, first) {
  const tree = ts.createSourceFile(file, source, ts.ScriptTarget.Latest, true)
  const line = (node) => first + tree.getLineAndCharacterOfPosition(node.getStart()).line
  const look = (node) => {
    if (ts.isImportDeclaration(node) || ts.isTypeNode(node)) return
    if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) {
      if (/\s/.test(node.text.trim()) || ts.isJsxText?.(node)) keep(file, line(node), node.text)
    } else if (ts.isTemplateExpression(node)) {
      const parts = [node.head.text, ...node.templateSpans.map((s) => s.literal.text)]
      if (/\p{L}{2,}\s|\s\p{L}{2,}/u.test(parts.join('…'))) keep(file, line(node), parts.join('…'))
    }
    ts.forEachChild(node, look)
  }
  look(tree)
}

function ofTemplate(file, node) {
  if (node.type === TEXT) keep(file, node.loc.start.line, node.content)
  if (node.type === INTERPOLATION) ofScript(file, `(${node.content.content})`, node.loc.start.line)
  for (const prop of node.props ?? []) {
    if (prop.type === DIRECTIVE && prop.exp)
      ofScript(file, `(${prop.exp.content})`, prop.loc.start.line)
    else if (READ.test(prop.name) && prop.value) keep(file, prop.loc.start.line, prop.value.content)
  }
  const children = node.children ?? []
  if (children.some((c) => c.type === TEXT && c.content.trim())) {
    // a sentence that holds elements and figures is read as one
    const whole = children.map((c) => (c.type === TEXT ? c.content : ofInline(c))).join('')
    keep(file, node.loc?.start.line ?? 1, whole)
    for (const c of children) if (c.type !== TEXT) ofTemplate(file, c)
  } else for (const c of children) ofTemplate(file, c)
}

function ofInline(node) {
  if (node.type !== ELEMENT) return node.type === INTERPOLATION ? '…' : ''
  const inside = (node.children ?? []).map((c) => (c.type === TEXT ? c.content : ofInline(c)))
  return ` ${inside.join('')} `
}

for (const name of readdirSync(ROOT, { recursive: true, encoding: 'utf8' }).sort()) {
  if (!/\.(vue|ts)$/.test(name) || /\.test\.ts$|schema\.ts$|^testing/.test(name)) continue
  const file = `web/src/${name}`
  const source = readFileSync(join(ROOT, name), 'utf8')
  if (name.endsWith('.ts')) ofScript(file, source, 1)
  else {
    const { descriptor } = parse(source)
    const script = descriptor.scriptSetup ?? descriptor.script
    if (script) ofScript(file, script.content, script.loc.start.line)
    if (descriptor.template?.ast) ofTemplate(file, descriptor.template.ast)
  }
}
process.stdout.write(JSON.stringify(found))
