// Code generated from the Go wire structs by "make types". DO NOT EDIT.

export interface Wire {
[k: string]: unknown
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BenchSetting".
 */
export interface BenchSetting {
route: string
instrument: string
at: string
level: string
frequency: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Cell".
 */
export interface Cell {
table: string
row: number
column: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CellProblem".
 */
export interface CellProblem {
severity: ("error" | "warning")
where: string
path: string
message: string
cell?: Cell
line?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Check".
 */
export interface Check {
problems: CellProblem[]
blocked: boolean
routes: RouteChoice[]
drawn: (Findings | null)
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RouteChoice".
 */
export interface RouteChoice {
key: string
name: string
mode: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Findings".
 */
export interface Findings {
state: ("" | "tracing" | "named" | "clean" | "source" | "conflict" | "stuck")
headline: string
stage: string
reasons: string[]
missing: Missing[]
notices: string[]
route: string
points: PointFinding[]
stages: StageFinding[]
rails: RailFinding[]
readings: Judged[]
next: (Probe | null)
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Missing".
 */
export interface Missing {
point: string
quantity: ("" | "ac" | "dc" | "frequency" | "resistance")
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PointFinding".
 */
export interface PointFinding {
name: string
drawing: string
note: string
hazard: string
stated: boolean
driven: boolean
expected: string
expectedDBV: (number | null)
lowDBV: (number | null)
highDBV: (number | null)
measuredDBV: (number | null)
verdict: ("" | "unjudged" | "within" | "low" | "high" | "absent" | "distorted" | "noisy" | "hum" | "off-frequency" | "intermittent")
off: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageFinding".
 */
export interface StageFinding {
name: string
kind: string
gainDB: (number | null)
measuredDB: (number | null)
standing: ("suspect" | "cleared" | "faulty" | "aside")
weight: number
reasons: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RailFinding".
 */
export interface RailFinding {
name: string
expected: string
point: string
read: string
verdict: ("" | "unjudged" | "within" | "low" | "high" | "absent" | "distorted" | "noisy" | "hum" | "off-frequency" | "intermittent")
off: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Judged".
 */
export interface Judged {
reading: Reading
understood: string
verdict: ("" | "unjudged" | "within" | "low" | "high" | "absent" | "distorted" | "noisy" | "hum" | "off-frequency" | "intermittent")
expected: string
off: string
note: string
superseded: boolean
levelDBV: (number | null)
expectedDBV: (number | null)
offDB: (number | null)
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Reading".
 */
export interface Reading {
id: string
/**
 * a point or a rail of the sheet
 */
point: string
quantity: ("" | "ac" | "dc" | "frequency" | "resistance")
/**
 * as typed
 */
text: string
si: number
form?: ("" | "dc" | "rms" | "pk" | "pp" | "avg")
word?: ("" | "ok" | "none" | "weak" | "hum" | "noisy" | "crackle" | "distorted" | "cuts out")
mode?: string
injected?: Injection
instrument?: string
taken: string
/**
 * withdrawn, but kept
 */
struck?: boolean
}
/**
 * absent: the sheet's own signal at the entry
 */
export interface Injection {
at: string
level?: number
hz?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Probe".
 */
export interface Probe {
point: string
at: number
quantity: ("" | "ac" | "dc" | "frequency" | "resistance")
purpose: string
sentence: Span[]
facts: Fact[]
minutes: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Span".
 */
export interface Span {
text: string
mark: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Fact".
 */
export interface Fact {
label: string
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Column".
 */
export interface Column {
name: string
title: string
hint: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Conditions".
 */
export interface Conditions {
route: string
injected: (Injection1 | null)
instrument: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Injection".
 */
export interface Injection1 {
at: string
level?: number
hz?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Echo".
 */
export interface Echo {
understood: string
verdict: ("" | "unjudged" | "within" | "low" | "high" | "absent" | "distorted" | "noisy" | "hum" | "off-frequency" | "intermittent")
says: string
expected: string
note: string
problem: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Equal".
 */
export interface Equal {
name: string
value: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Instrument".
 */
export interface Instrument {
key: string
name: string
inputOhms: number
inputF: number
maxHz: number
averaging: boolean
scope: boolean
factor: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "JobView".
 */
export interface JobView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
outcome: string
stage: string
route: string
injected: (Injection1 | null)
injecting: string
instrument: string
instruments: Instrument[]
routes: RouteChoice[]
findings: (Findings | null)
struck: {
[k: string]: string
}
problems: Problem[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Problem".
 */
export interface Problem {
severity: ("error" | "warning")
where: string
path: string
message: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NewJob".
 */
export interface NewJob {
sheet: number
complaint: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Opened".
 */
export interface Opened {
number: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Outcome".
 */
export interface Outcome {
outcome: string
stage: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ProblemDetails".
 */
export interface ProblemDetails {
type: string
title: string
status: number
detail: string
at?: number
problems?: CellProblem[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "QuantityText".
 */
export interface QuantityText {
text: string
unit: string
shape: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "QuantityView".
 */
export interface QuantityView {
value: Value
text: string
equals: Equal[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Value".
 */
export interface Value {
si: number
unit: string
form?: ("" | "dc" | "rms" | "pk" | "pp" | "avg")
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Reason".
 */
export interface Reason {
reason: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SavedSheet".
 */
export interface SavedSheet {
revision: number
tables: Tables
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Tables".
 */
export interface Tables {
maker: string
model: string
kind: string
note: string
settings: string
tables: Table[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Table".
 */
export interface Table {
name: string
columns: Column[]
rows: string[][]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SheetList".
 */
export interface SheetList {
sheets: SheetRow[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SheetRow".
 */
export interface SheetRow {
id: number
name: string
kind: string
points: number
stages: number
routes: number
jobs: number
doubts: number
blocked: boolean
saved: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SheetView".
 */
export interface SheetView {
id: number
revision: number
tables: Tables
check: Check
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Shelf".
 */
export interface Shelf {
jobs: ShelfJob[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ShelfJob".
 */
export interface ShelfJob {
number: number
set: string
kind: string
complaint: string
opened: string
finished: (string | null)
readings: number
headline: string
state: ("" | "tracing" | "named" | "clean" | "source" | "conflict" | "stuck")
points: PointFinding[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TablesToCheck".
 */
export interface TablesToCheck {
tables: Tables
route: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Typed".
 */
export interface Typed {
id: string
point: string
quantity?: ("" | "ac" | "dc" | "frequency" | "resistance")
text: string
conditions: Conditions
}
