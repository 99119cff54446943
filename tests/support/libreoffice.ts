import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/** Debian's Python, which has the bridge to LibreOffice (package python3-uno). */
const PYTHON = '/usr/bin/python3'
const works = (command: string, args: readonly string[]) => spawnSync(command, args).status === 0

/** Is LibreOffice here? `apt-get install libreoffice-calc-nogui python3-uno` brings it; without it these checks are passed over. */
export const hasLibreOffice = works('soffice', ['--version']) && works(PYTHON, ['-c', 'import uno'])

/** How long a test may take in which it is started, in milliseconds. */
export const OFFICE_MS = 240_000

/** Starts LibreOffice by itself, opens a workbook, types into cells of a sheet, and saves it as XLSX and as CSV. */
const TYPE = `
import json, subprocess, sys, time, uno
from com.sun.star.beans import PropertyValue
folder, sheet, typed = sys.argv[1], sys.argv[2], json.loads(sys.argv[3])
office = subprocess.Popen(['soffice', '--headless', '--norestore', '--nologo',
  '-env:UserInstallation=file://' + folder + '/profile', '--accept=pipe,name=lantern' + folder.split('-')[-1] + ';urp;'])
here = uno.getComponentContext()
resolver = here.ServiceManager.createInstanceWithContext('com.sun.star.bridge.UnoUrlResolver', here)
for attempt in range(300):
  try:
    there = resolver.resolve('uno:pipe,name=lantern' + folder.split('-')[-1] + ';urp;StarOffice.ComponentContext')
    break
  except Exception:
    if office.poll() is not None: sys.exit('LibreOffice ended')
    time.sleep(0.2)
named = lambda **values: tuple(PropertyValue(Name=name, Value=value) for name, value in values.items())
desktop = there.ServiceManager.createInstanceWithContext('com.sun.star.frame.Desktop', there)
book = desktop.loadComponentFromURL('file://' + folder + '/in.xlsx', '_blank', 0, named(Hidden=True))
page = book.Sheets.getByName(sheet)
for place, text in typed.items():
  cell = page.getCellRangeByName(place)
  if text.startswith("'"): cell.String = text[1:]
  else: cell.FormulaLocal = text
book.storeToURL('file://' + folder + '/out.xlsx', named(FilterName='Calc MS Excel 2007 XML'))
book.storeToURL('file://' + folder + '/out.csv', named(FilterName='Text - txt - csv (StarCalc)', FilterOptions='44,34,76'))
book.close(True)
try: desktop.terminate()
except Exception: pass
office.wait(60)
`

/**
 * Lets LibreOffice open a workbook, type into cells of a sheet as a person would, and save it. What begins with an
 * apostrophe is a text, whatever follows.
 * @returns the workbook as it saved it, and its first sheet as CSV
 * @throws Error with what LibreOffice said
 * @example typeInLibreOffice(bytes, 'Reports', { D3: '6', E3: '1' })
 */
export function typeInLibreOffice(
  bytes: Buffer,
  sheet: string,
  typed: Readonly<Record<string, string>>,
): { xlsx: Buffer; csv: string } {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-office-'))
  try {
    writeFileSync(join(folder, 'in.xlsx'), bytes)
    const { status, stderr } = spawnSync(PYTHON, ['-c', TYPE, folder, sheet, JSON.stringify(typed)], {
      timeout: 120_000,
    })
    if (status !== 0) throw new Error(`LibreOffice did not do it: ${String(stderr)}`)
    return {
      xlsx: readFileSync(join(folder, 'out.xlsx')),
      csv: readFileSync(join(folder, 'out.csv'), 'utf8'),
    }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
