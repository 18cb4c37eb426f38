// Code generated from the API's routes by "make types". DO NOT EDIT.

export interface Wire {
[k: string]: unknown
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Action".
 */
export interface Action {
act: string
done: string
caution: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustCabinet".
 */
export interface AdjustCabinet {
perWatt: number
inside: number
spare: number
most: number
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustCondition".
 */
export interface AdjustCondition {
text: string
ticked: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustDrift".
 */
export interface AdjustDrift {
perMinute: number
give: number
seconds: number
stable: boolean
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustEntry".
 */
export interface AdjustEntry {
id: string
at: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
adjustment?: string
tick?: AdjustTick
warm?: AdjustWarm
read?: AdjustRead
left?: AdjustLeft
setting?: AdjustSetting
heat?: AdjustHeat
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustTick".
 */
export interface AdjustTick {
condition: string
off?: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustWarm".
 */
export interface AdjustWarm {

}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustRead".
 */
export interface AdjustRead {
text: string
si: number
unit?: string
/**
 * of the control: 40 %, 10:30, 3 turns
 */
position?: string
/**
 * that as a share of its travel
 */
place?: number
/**
 * the instrument that took it
 */
by?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustLeft".
 */
export interface AdjustLeft {
why?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustSetting".
 */
export interface AdjustSetting {
item: string
of?: string
value: string
how: ("found" | "changed" | "back")
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustHeat".
 */
export interface AdjustHeat {
watts: string
inside?: string
room?: string
warmest?: string
allowed?: string
iron?: string
copper?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustIdle".
 */
export interface AdjustIdle {
rails: number
iron: number
copper: number
mains: number
of: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustIdling".
 */
export interface AdjustIdling {
heat: AdjustHeat
expected: AdjustIdle
watts: number
verdict: ("within" | "high" | "low" | "")
says: string
cabinet: (AdjustCabinet | null)
doubt: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustKept".
 */
export interface AdjustKept {
item: string
of: string
found: string
now: string
moved: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustNull".
 */
export interface AdjustNull {
found: ("searching" | "found" | "beyond the stop" | "no effect" | "no single one")
next: number
at: number
give: number
width: number
best: number
curve: number[]
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustReading".
 */
export interface AdjustReading {
id: string
at: string
text: string
si: number
unit: string
place: string
share: number
value: string
verdict: ("" | "right" | "low" | "high")
says: string
earlier: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustSample".
 */
export interface AdjustSample {
at: string
si: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustSlope".
 */
export interface AdjustSlope {
place: number
reads: number
eighth: number
back: number
first: number
last: number
reaches: number
overload: string
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustStanding".
 */
export interface AdjustStanding {
name: string
kind: string
turn: string
where: string
target: string
bounds: string
sought: ("" | "value" | "least" | "most" | "by eye" | "by ear")
unit: string
ribbon: number[]
source: ("" | "good" | "circuit" | "usual")
beware: string
manual: string
why: string
conditions: AdjustCondition[]
warm: AdjustWarming
readings: AdjustReading[]
before: (AdjustReading | null)
after: (AdjustReading | null)
leftSo: string
course: AdjustSample[]
drift: (AdjustDrift | null)
null: (AdjustNull | null)
slope: (AdjustSlope | null)
other: string
otherName: string
state: ("open" | "begun" | "set" | "again")
says: string
doubt: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustWarming".
 */
export interface AdjustWarming {
needed: number
left: number
since: (string | null)
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AdjustView".
 */
export interface AdjustView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
adjustments: AdjustStanding[]
written: Adjustment[]
offered: Adjustment[]
menu: AdjustKept[]
idling: (AdjustIdling | null)
cautions: string[]
kinds: string[]
meter: string
revision: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SafetyPower".
 */
export interface SafetyPower {
state: ("" | "live" | "standby" | "off" | "discharged")
since: (string | null)
says: string
reservoirs: SafetyReservoir[]
ticked: SafetyTick[]
open: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SafetyReservoir".
 */
export interface SafetyReservoir {
name: string
measured: (number | null)
text: string
safe: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SafetyTick".
 */
export interface SafetyTick {
key: string
at: string
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
 * via the `definition` "Adjustment".
 */
export interface Adjustment {
name: string
/**
 * bias, offset, null, oscillator, supply and so on
 */
kind?: string
/**
 * what is turned, bent or chosen: VR301, T4, an item of the set's own menu
 */
turn?: string
/**
 * TP7, TP7 to TP8, across R313; picture or sound
 */
measure?: string
/**
 * where the target's unit does not say it
 */
quantity?: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")
/**
 * 12 mV, least, most, by eye, by ear
 */
target?: string
tolerance?: string
conditions?: string[]
/**
 * minutes that the set is on before
 */
warm?: string
/**
 * adjustments that move this one, and are made before it
 */
after?: string[]
/**
 * of the resistor that the voltage is read across
 */
ohms?: string
/**
 * across what that current heats: a rail, or a voltage
 */
volts?: string
/**
 * of the control from stop to stop; 0.75 understood
 */
turns?: string
/**
 * what may go wrong
 */
beware?: string
/**
 * the stage or rail that it is in, whose circuit computes it
 */
stage?: string
/**
 * the same adjustment of the other channel
 */
twin?: string
/**
 * what the manual says instead
 */
manual?: string
/**
 * why the workshop does it in its own way
 */
why?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Asked".
 */
export interface Asked {
key: string
name: string
hint: string
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "AskedSum".
 */
export interface AskedSum {
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Beginnings".
 */
export interface Beginnings {
patterns: PatternRow[]
sheets: Sheeted[]
jobs: Earlier[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PatternRow".
 */
export interface PatternRow {
name: string
group: string
options: PatternOption[]
chosen: PatternChosen
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PatternOption".
 */
export interface PatternOption {
key: string
ask: string
choices: string[]
usual: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PatternChosen".
 */
export interface PatternChosen {
[k: string]: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Sheeted".
 */
export interface Sheeted {
id: number
name: string
kind: string
blocked: boolean
jobs: number
named: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Earlier".
 */
export interface Earlier {
number: number
set: string
complaint: string
headline: string
named: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BenchInstrument".
 */
export interface BenchInstrument {
id: string
name: string
kind: ("scope" | "generator" | "meter" | "tester" | "logger")
address: string
words: string
standIn: boolean
wide?: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "BenchSetting".
 */
export interface BenchSetting {
way?: ("halve" | "front" | "back" | "supplies" | "reach" | "weak" | "touch")
route: string
instrument: string
at: string
level: string
frequency: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Best".
 */
export interface Best {
row: number
cell: number
sentence: string
why: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Between".
 */
export interface Between {
after: number
blocks: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Board".
 */
export interface Board {
sheet: number
set: string
pictures: PictureView[]
struck: PinPicture[]
places: PinPlace[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PictureView".
 */
export interface PictureView {
id: string
name: string
seen: ("parts" | "copper" | "drawing" | "other")
/**
 * image/jpeg, image/png or application/pdf
 */
type: string
/**
 * in pixels; 0 for a PDF
 */
width?: number
height?: number
turn?: number
mirror?: boolean
added: string
changes?: number
/**
 * taken out, but kept
 */
struck?: boolean
pins: PinView[]
asked: PinAsked[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PinView".
 */
export interface PinView {
name: string
page?: number
x: number
y: number
doubt?: boolean
is: string
mark: ("good" | "bad" | "suspect" | "unread" | "known")
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PinAsked".
 */
export interface PinAsked {
name: string
what: string
elsewhere: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PinPicture".
 */
export interface PinPicture {
id: string
name: string
seen: ("parts" | "copper" | "drawing" | "other")
/**
 * image/jpeg, image/png or application/pdf
 */
type: string
/**
 * in pixels; 0 for a PDF
 */
width?: number
height?: number
turn?: number
mirror?: boolean
added: string
changes?: number
/**
 * taken out, but kept
 */
struck?: boolean
pins: Pin[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Pin".
 */
export interface Pin {
name: string
page?: number
x: number
y: number
doubt?: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PinPlace".
 */
export interface PinPlace {
name: string
picture: string
of: string
page?: number
x: number
y: number
doubt?: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Borrowed".
 */
export interface Borrowed {
whose: string
jobs: number
new: number
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Calibration".
 */
export interface Calibration {
device: string
measured: string
peak: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CaptureChannel".
 */
export interface CaptureChannel {
name: string
unit: string
point: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CaptureHead".
 */
export interface CaptureHead {
id: string
name: string
taken: string
struck: boolean
trouble: string
good: boolean
mode: string
injected: (Injection | null)
instrument: string
settings: string
rate: number
samples: number
seconds: number
channels: CaptureChannel[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Injection".
 */
export interface Injection {
touch?: boolean
at: string
level?: number
hz?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CapturesView".
 */
export interface CapturesView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
points: string[]
captures: CaptureHead[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CaseView".
 */
export interface CaseView {
number: number
level: ("first steps" | "usual" | "long" | "hard")
advice: ("hidden" | "asked" | "shown")
told: boolean
minutes: number
warm: boolean
stopped: number
ended: boolean
review: (TrainingReview | null)
cells: TrainingHeard[]
fuses: TrainingFuse[]
last: (TrainingTaken | null)
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingReview".
 */
export interface TrainingReview {
wrong: string[]
found: boolean[]
manual: string
worn: string[]
minutes: number
searching: number
probes: number
best: TrainingPath[]
bestProbes: number
bestMinutes: number
taken: TrainingTaken[]
costliest: number
done: TrainingDone[]
stopped: TrainingStopped[]
asked: number
says: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingPath".
 */
export interface TrainingPath {
steps: TrainingStep[]
ends: string
left?: string[]
minutes: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingStep".
 */
export interface TrainingStep {
does: string
reads: string
minutes: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingTaken".
 */
export interface TrainingTaken {
id: string
point: string
reads: string
verdict: string
minutes: number
by: number
weighed: boolean
lost: number
costly: boolean
nothing: boolean
was: string
best: string
why: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingDone".
 */
export interface TrainingDone {
says: string
right: boolean
worn: boolean
missing: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingStopped".
 */
export interface TrainingStopped {
at: string
what: string
would: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingHeard".
 */
export interface TrainingHeard {
mode: string
entry: string
exit: string
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingFuse".
 */
export interface TrainingFuse {
name: string
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CautionView".
 */
export interface CautionView {
key: string
sign: string
obey: string
title: string
where: string[]
do: string
before: string
ticked: (string | null)
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
 * via the `definition` "ChannelView".
 */
export interface ChannelView {
name: string
unit: string
kind: string
list: Figure[]
response: (Spectrum | null)
comparison: (Comparison | null)
against: string
whole: Strip
few: Strip
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Figure".
 */
export interface Figure {
key: string
name: string
value: number
unit: string
text: string
sure: number
how: string
reading: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Spectrum".
 */
export interface Spectrum {
hz: number[]
db: number[]
resolution: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Comparison".
 */
export interface Comparison {
gainDB: number
hz: number
rest: number
shift: number
defects: Defect[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Defect".
 */
export interface Defect {
kind: string
evidence: string
causes: string
word: ("" | "ok" | "none" | "weak" | "partly" | "hum" | "noisy" | "crackle" | "distorted" | "cuts out" | "open" | "warm" | "cold")
reading: string
weight: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Strip".
 */
export interface Strip {
from: number
to: number
low: number[]
high: number[]
dueLow: number[]
dueHigh: number[]
leftLow: number[]
leftHigh: number[]
dots: number[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ChartCell".
 */
export interface ChartCell {
part: string
leg: string
name: string
condition: string
quantity: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")
text: string
value: string
line: number
doubt: string
likely: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ChartLevel".
 */
export interface ChartLevel {
block: string
at: string
text: string
value: string
line: number
doubt: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ChartLevels".
 */
export interface ChartLevels {
levels: ChartLevel[]
missed: ChartMissed[]
plain: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ChartMissed".
 */
export interface ChartMissed {
line: number
text: string
why: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ChartRead".
 */
export interface ChartRead {
cells: ChartCell[]
conditions: string[]
missed: ChartMissed[]
under: ChartUnder[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ChartUnder".
 */
export interface ChartUnder {
condition: string
mode: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ChartTaken".
 */
export interface ChartTaken {
revision: number
cells?: ChartCell[]
under?: ChartUnder[]
levels?: ChartLevel[]
mode?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ChartText".
 */
export interface ChartText {
text: string
modes?: string[]
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
state: ("" | "tracing" | "named" | "clean" | "source" | "conflict" | "verifying" | "repaired" | "stuck" | "elsewhere" | "supply")
headline: string
stage: string
line: string
reasons: string[]
grounds: Ground[]
condemned: boolean
goTo: string
next: (Probe | null)
options: Option[]
verify: Ground[]
notices: string[]
route: string
points: PointFinding[]
stages: StageFinding[]
rails: LineFinding[]
controls: LineFinding[]
readings: Judged[]
manual: ManualError[]
map: MapStage[]
ways: WayCost[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Ground".
 */
export interface Ground {
key: string
text: string
because: string
proof: ("shown" | "missing" | "against" | "waived")
point: string
quantity: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")
without: string[]
worked: boolean
safety: boolean
route: string
injected: (Injection | null)
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Probe".
 */
export interface Probe {
point: string
at: number
quantity: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")
purpose: string
sentence: Span[]
facts: Fact[]
minutes: number
without: string[]
worked: boolean
bits: number
route: string
injected: (Injection | null)
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
 * via the `definition` "Option".
 */
export interface Option {
point: string
does: string
ifGood: string
ifBad: string
bits: number
minutes: number
total: number
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
refused: string
ifGood: string
ifBad: string
stated: boolean
driven: boolean
expected: string
source: ("" | "good" | "circuit" | "usual")
twin: string
hz: number
expectedDBV: (number | null)
lowDBV: (number | null)
highDBV: (number | null)
measuredDBV: (number | null)
beforeDBV: (number | null)
verdict: ("" | "unjudged" | "within" | "low" | "partly" | "high" | "absent" | "distorted" | "noisy" | "hum" | "off-frequency" | "intermittent")
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
standing: ("suspect" | "cleared" | "faulty" | "aside" | "open")
weight: number
reasons: string[]
speaks: Speak[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Speak".
 */
export interface Speak {
text: string
for: boolean
times: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LineFinding".
 */
export interface LineFinding {
name: string
does: string
expected: string
point: string
read: string
was: string
verdict: ("" | "unjudged" | "within" | "low" | "partly" | "high" | "absent" | "distorted" | "noisy" | "hum" | "off-frequency" | "intermittent")
off: string
note: string
ripple: string
rippling: ("" | "unjudged" | "within" | "low" | "partly" | "high" | "absent" | "distorted" | "noisy" | "hum" | "off-frequency" | "intermittent")
moves: string
by: string
moved: string
moving: ("" | "unjudged" | "within" | "low" | "partly" | "high" | "absent" | "distorted" | "noisy" | "hum" | "off-frequency" | "intermittent")
weight: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Judged".
 */
export interface Judged {
reading: Reading
understood: string
verdict: ("" | "unjudged" | "within" | "low" | "partly" | "high" | "absent" | "distorted" | "noisy" | "hum" | "off-frequency" | "intermittent")
expected: string
off: string
how: string
note: string
source: ("" | "good" | "circuit" | "usual")
twin: string
superseded: boolean
round: number
earlier: boolean
was: string
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
 * a point, a rail or a control of the sheet
 */
point: string
quantity: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")
/**
 * as typed
 */
text: string
si: number
form?: ("" | "dc" | "rms" | "pk" | "pp" | "avg")
word?: ("" | "ok" | "none" | "weak" | "partly" | "hum" | "noisy" | "crackle" | "distorted" | "cuts out" | "open" | "warm" | "cold")
mode?: string
injected?: Injection1
instrument?: string
/**
 * how the set stood; absent: on, or not said
 */
power?: ("" | "off" | "standby" | "on")
/**
 * stages swapped for known good ones, or loads lifted off, while it was taken
 */
without?: string[]
/**
 * what was done, of a provocation
 */
act?: string
/**
 * the control was worked while it was taken: its key held
 */
worked?: boolean
/**
 * id of the captured waveform it was read from
 */
capture?: string
/**
 * of the instruments, as read back from them
 */
settings?: string
taken: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
}
/**
 * absent: the sheet's own signal at the entry
 */
export interface Injection1 {
touch?: boolean
at: string
level?: number
hz?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ManualError".
 */
export interface ManualError {
points: string[]
text: string
fits: number
odds: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "MapStage".
 */
export interface MapStage {
name: string
from: string
to: string
standing: ("suspect" | "cleared" | "faulty" | "aside" | "open")
condemned: boolean
here: boolean
back: boolean
routes: string[]
needs: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WayCost".
 */
export interface WayCost {
way: ("halve" | "front" | "back" | "supplies" | "reach" | "weak" | "touch")
name: string
note: string
probes: number
minutes: number
worstProbes: number
worstMinutes: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Choice".
 */
export interface Choice {
id: string
kind: ("which part" | "which stage" | "what is left" | "what is weak" | "what is it" | "what fits")
seed: number
choice: number
seconds?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Circuit".
 */
export interface Circuit {
format: "steptrace-circuit"
version: 1
name?: string
entry?: string
parts: CircuitPart[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitPart".
 */
export interface CircuitPart {
name: string
kind: string
nodes: string[]
value?: string
also?: {
[k: string]: string
}
in?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitAnswer".
 */
export interface CircuitAnswer {
problems: CircuitProblem[]
rest: (CircuitRest | null)
figure: (CircuitFigure | null)
swing: number
responses: CircuitResponse[]
course: CircuitCourse[]
diagnosis?: CircuitDiagnosis
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitProblem".
 */
export interface CircuitProblem {
where: string
message: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitRest".
 */
export interface CircuitRest {
volts: {
[k: string]: number
}
parts: CircuitPartRest[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitPartRest".
 */
export interface CircuitPartRest {
name: string
volts: number
amps: number
watts: number
rated?: number
bias?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitFigure".
 */
export interface CircuitFigure {
lines: CircuitLine[]
columns: CircuitColumn[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitLine".
 */
export interface CircuitLine {
node: string
volts: number
first: number
last: number
ground?: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitColumn".
 */
export interface CircuitColumn {
part: string
kind: string
text: string
lines: number[]
legs: string[]
sign: CircuitSign
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitSign".
 */
export interface CircuitSign {
outline: string
filled: string
bare: number
on: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitResponse".
 */
export interface CircuitResponse {
hz: number
gain: {
[k: string]: number
}
phase: {
[k: string]: number
}
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitCourse".
 */
export interface CircuitCourse {
node: string
interval: number
samples: number[]
figures: Figure[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitDiagnosis".
 */
export interface CircuitDiagnosis {
ranked: CircuitRanked[]
explained: boolean
asIf: CircuitAsIf[]
next: CircuitProposal[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitRanked".
 */
export interface CircuitRanked {
faults: CircuitFault[]
says: string
group: number
weight: number
predicted: number[]
shows: string[]
off: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitFault".
 */
export interface CircuitFault {
part: string
what: string
share: number
as?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitAsIf".
 */
export interface CircuitAsIf {
part: string
value: string
was: string
off: number
nearest: string
fitted: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitProposal".
 */
export interface CircuitProposal {
what: ("dc" | "gain" | "ripple" | "frequency" | "duty" | "ohms" | "shape" | "alone" | "checked")
node?: string
part?: string
hz?: string
needs: ("power" | "signal" | "power off" | "lifted leg" | "part out")
bits: number
minutes: number
sentence: string
expect: CircuitExpect[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitExpect".
 */
export interface CircuitExpect {
fault: string
value: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitDrive".
 */
export interface CircuitDrive {
shape?: string
peak?: string
hz?: string
after?: string
span: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitFamily".
 */
export interface CircuitFamily {
name: string
parts: CircuitPart[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitNodeReading".
 */
export interface CircuitNodeReading {
what: ("dc" | "gain" | "ripple" | "frequency" | "duty" | "ohms" | "shape" | "alone" | "checked")
node?: string
to?: string
from?: string
part?: string
hz?: string
drive?: string
value: string
error?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CircuitQuestion".
 */
export interface CircuitQuestion {
circuit?: Circuit
rows?: string[][]
frequencies?: string[]
drive?: CircuitDrive
readings?: CircuitNodeReading[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Circumstance".
 */
export interface Circumstance {
when: ("cold" | "warm" | "knock" | "turned" | "source")
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Closing".
 */
export interface Closing {
name: string
/**
 * power, response, hum, works and so on
 */
kind?: string
/**
 * where it is read: an exit, a point
 */
at?: string
/**
 * the other channel's exit, for separation
 */
other?: string
/**
 * where the signal is fed in
 */
from?: string
mode?: string
/**
 * what is fed in; empty: as the sheet has it there
 */
level?: string
/**
 * of what is fed in; a response is told against the one that the sheet feeds in, or 1 kHz
 */
frequencies?: string[]
/**
 * what the exit works into: 8 Ω
 */
load?: string
least?: string
most?: string
conditions?: string[]
note?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ClosingCell".
 */
export interface ClosingCell {
mode: string
entry: string
exit: string
words: ("" | "ok" | "none" | "weak" | "partly" | "hum" | "noisy" | "crackle" | "distorted" | "cuts out" | "open" | "warm" | "cold")[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ClosingResult".
 */
export interface ClosingResult {
id: string
at: (string | null)
text: string
si: number
value: string
says: string
verdict: ("" | "right" | "low" | "high" | "bad")
by: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ClosingStanding".
 */
export interface ClosingStanding {
name: string
kind: string
own: boolean
how: string
hint: string
bounds: string
usual: boolean
unit: string
low: (number | null)
high: (number | null)
conditions: string[]
note: string
cautions: string[]
steps: boolean
example: string
works: boolean
cell: (ClosingCell | null)
before: (ClosingResult | null)
after: (ClosingResult | null)
without: string
state: ("open" | "right" | "off" | "read" | "without")
doubt: string
written: (Closing | null)
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ClosingView".
 */
export interface ClosingView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
says: string
open: number
off: number
items: ClosingStanding[]
kinds: string[]
meter: string
repaired: boolean
revision: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Column".
 */
export interface Column {
name: string
title: string
hint: string
wide: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Complaint".
 */
export interface Complaint {
says: string
pointsAt: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CondemnedPart".
 */
export interface CondemnedPart {
stage: string
part: string
what: string
found: ("bad" | "wrong" | "precaution")
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Conditions".
 */
export interface Conditions {
route: string
injected: (Injection | null)
instrument: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Connected".
 */
export interface Connected {
probe: string
second?: string
generator: boolean
conditions: Conditions
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Control".
 */
export interface Control {
name: string
does: string
/**
 * DC voltage while the signal passes; a ground may leave it out
 */
value?: string
tolerance?: string
/**
 * where it is measured
 */
point?: string
/**
 * DC voltage while it is worked
 */
worked?: string
/**
 * how it is worked, for example MUTE held
 */
by?: string
/**
 * rail or control it is made from, or what drives it
 */
from?: string
note?: string
/**
 * names that it had before
 */
was?: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CopiesView".
 */
export interface CopiesView {
folder: string
keep: number
list: CopyShown[]
says: string
loud: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "CopyShown".
 */
export interface CopyShown {
name: string
at: string
bytes: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Costing".
 */
export interface Costing {
Minutes: number
Parts: number
Allowed: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Count".
 */
export interface Count {
count: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DeviceFitting".
 */
export interface DeviceFitting {
seen: ("front" | "solder")
old: string
new: string
holes: DeviceSpot[]
legs: DeviceSpot[]
to: number[]
turn: string
crossed: [number, number][]
wired: boolean
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DeviceSpot".
 */
export interface DeviceSpot {
leg: string
x: number
y: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DeviceRow".
 */
export interface DeviceRow {
type: string
kind: ("transistor" | "mosfet" | "jfet" | "diode" | "rectifier" | "zener" | "bridge" | "op-amp" | "comparator" | "timer" | "switch" | "regulator" | "reference" | "optocoupler" | "tube" | "module")
/**
 * npn, pnp, n, p, positive, negative
 */
polarity?: string
/**
 * silicon or germanium
 */
material?: string
/**
 * the most that it bears; of a zener its voltage
 */
volts?: string
/**
 * the most that it carries
 */
amps?: string
/**
 * the most heat at 25 °C
 */
watts?: string
/**
 * where those 25 °C are: air or case
 */
heat?: string
/**
 * 110-800; 40- where only the least is known
 */
gain?: string
/**
 * the current of that gain, or of a zener's voltage
 */
at?: string
/**
 * transition frequency
 */
frequency?: string
capacitance?: string
/**
 * reverse recovery
 */
speed?: string
/**
 * forward drop; of a regulator its output
 */
drop?: string
/**
 * threshold or pinch-off, 2-4 V
 */
threshold?: string
case?: string
/**
 * their order as the case is seen: E B C
 */
legs?: string
/**
 * of the other polarity
 */
pair?: string
note?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DeviceShown".
 */
export interface DeviceShown {
id: string
name: string
initials: string
for: string
since: string
seen: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DischargeQuestion".
 */
export interface DischargeQuestion {
farads: string
volts: string
below: string
seconds: string
bleeder: string
through: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DoorView".
 */
export interface DoorView {
open: boolean
says: string
ways: string[]
fingerprint: string
words: string
devices: DeviceShown[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DrawerView".
 */
export interface DrawerView {
kept: ReplaceKept[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceKept".
 */
export interface ReplaceKept {
what: string
count: number
/**
 * where it lies
 */
place?: string
price?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "DrawnCase".
 */
export interface DrawnCase {
number: number
set: string
level: ("first steps" | "usual" | "long" | "hard")
complaint: string
ended: boolean
minutes: number
found: number
faults: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Drill".
 */
export interface Drill {
what: ("wait" | "advice" | "end")
minutes?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Due".
 */
export interface Due {
at: string
note?: string
quantity: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")
value: string
mode?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Echo".
 */
export interface Echo {
understood: string
verdict: ("" | "unjudged" | "within" | "low" | "partly" | "high" | "absent" | "distorted" | "noisy" | "hum" | "off-frequency" | "intermittent")
says: string
expected: string
note: string
problem: string
without: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "EchoAdjusting".
 */
export interface EchoAdjusting {
adjustment: string
text: string
position?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "EchoedAdjusting".
 */
export interface EchoedAdjusting {
verdict: ("" | "right" | "low" | "high")
si: number
unit: string
value: string
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "EchoedClosing".
 */
export interface EchoedClosing {
si: number
value: string
says: string
verdict: ("" | "right" | "low" | "high" | "bad")
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
 * via the `definition` "Exit".
 */
export interface Exit {
name: string
note: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Expectation".
 */
export interface Expectation {
quantity: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")
value: string
tolerance?: string
/**
 * sine (understood when empty), square, triangle, or another word
 */
shape?: string
/**
 * name of a waveform picture
 */
picture?: string
mode?: string
drive?: string
driveFrequency?: string
settings?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FamilyList".
 */
export interface FamilyList {
families: CircuitFamily[]
kinds: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Fitted".
 */
export interface Fitted {
id: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FittedPart".
 */
export interface FittedPart {
name: string
value: string
condemned: string
found: ("bad" | "wrong" | "precaution")
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "FittedPlace".
 */
export interface FittedPlace {
name: string
parts: FittedPart[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "GoodCapture".
 */
export interface GoodCapture {
good: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Graded".
 */
export interface Graded {
right: number
why: string[]
about: string
skills: TrainingSkill[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingSkill".
 */
export interface TrainingSkill {
kind: ("which part" | "which stage" | "what is left" | "what is weak" | "what is it" | "what fits")
of: number
right: number
last: boolean[]
running: number
due: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Grown".
 */
export interface Grown {
job: (JobView | null)
added: string[]
gone: string[]
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
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
revision: number
outcome: string
stage: string
route: string
injected: (Injection | null)
injecting: string
way: ("halve" | "front" | "back" | "supplies" | "reach" | "weak" | "touch")
instrument: string
instruments: Instrument[]
actions: Action[]
routes: RouteChoice[]
findings: (Findings | null)
spots: Spot[]
struck: {
[k: string]: string
}
supplies: SupplyRail[]
offers: IntakeOffer[]
condemned: CondemnedPart[]
repairs: NotedRepair[]
symptoms: NotedSymptom[]
stillOpen: Open[]
round: number
notDone: string
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
maxVolts: number
derateHz: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Spot".
 */
export interface Spot {
name: string
kind: ("point" | "rail" | "control" | "fuse" | "place")
note: string
quantities: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SupplyRail".
 */
export interface SupplyRail {
name: string
expected: string
up: string
needed: string[]
read: string
ripple: string
ohms: string
state: ("" | "good" | "waiting" | "missing" | "low" | "high" | "rippling" | "shorted")
says: string
elements: SupplyElement[]
next: SupplyCheck[]
hunt: (SupplyHunt | null)
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SupplyElement".
 */
export interface SupplyElement {
kind: ("mains" | "winding" | "rail" | "fuse" | "rectifier" | "reservoir" | "regulator" | "load")
name: string
standing: ("" | "good" | "suspect" | "faulty")
why: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SupplyCheck".
 */
export interface SupplyCheck {
point: string
quantity: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")
text: string
without: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SupplyHunt".
 */
export interface SupplyHunt {
hangs: SupplyHanging[]
lift: (SupplyLift | null)
says: string
proved: boolean
places: SupplyPlace[]
found: (SupplyFound | null)
doubt: string
warm: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SupplyHanging".
 */
export interface SupplyHanging {
name: string
place: string
behind: string
left: boolean
felt: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SupplyLift".
 */
export interface SupplyLift {
names: string[]
sentence: string
why: string
minutes: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SupplyPlace".
 */
export interface SupplyPlace {
name: string
label: string
read: string
volts: (number | null)
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SupplyFound".
 */
export interface SupplyFound {
from: number
to: number
share: number
residual: number
sentence: string
near: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "IntakeOffer".
 */
export interface IntakeOffer {
stage: string
what: string
check: string
point: string
fits: boolean
times: number
of: number
lent: number
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NotedRepair".
 */
export interface NotedRepair {
id: string
at: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
repair?: Repair
temporary?: RepairTemporary
removed?: RepairRemoved
without?: RepairWithout
says: string
round: number
in: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Repair".
 */
export interface Repair {
did: ("replaced" | "re-soldered" | "cleaned" | "track mended" | "adjusted" | "wiring put right" | "modified")
stage?: string
parts?: RepairPart[]
where?: string
note?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RepairPart".
 */
export interface RepairPart {
name: string
found: ("bad" | "wrong" | "precaution")
/**
 * value or type as fitted now
 */
fitted?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RepairTemporary".
 */
export interface RepairTemporary {
what: ("fuse bridged" | "jumper" | "lifted" | "fed from outside" | "good one swapped in")
/**
 * the fuse, stage or part
 */
subject: string
note?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RepairRemoved".
 */
export interface RepairRemoved {
entry?: string
subject?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RepairWithout".
 */
export interface RepairWithout {
key: string
text: string
why: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NotedSymptom".
 */
export interface NotedSymptom {
id: string
at: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
key: string
count?: number
when?: ("cold" | "warm" | "knock" | "turned" | "source")[]
says: string
shows: string
look: string[]
pointsAt: SymptomPointed[]
earlier: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SymptomPointed".
 */
export interface SymptomPointed {
block: string
share: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Open".
 */
export interface Open {
key: string
text: string
view: string
waived: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Hangs".
 */
export interface Hangs {
rail: string
place?: string
names: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Happening".
 */
export interface Happening {
id: string
kind: ("on" | "standby" | "off" | "residual" | "tick" | "untick")
subject: string
text: string
confirmed: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Hazard".
 */
export interface Hazard {
kind: string
where?: string
note?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Head".
 */
export interface Head {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "InsideView".
 */
export interface InsideView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
revision: number
stages: StageListed[]
view: StageView
circuit: string[][]
columns: Column[]
families: string[]
kinds: string[]
checks: PartCheck[]
actions: Action[]
pictures: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageListed".
 */
export interface StageListed {
stage: string
circuit: boolean
belief: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageView".
 */
export interface StageView {
stage: string
says: string
circuit: boolean
entry: string
problems: CircuitProblem[]
figure: CircuitFigure
nodes: StageNode[]
parts: StagePart[]
readable: ("dc" | "gain" | "ripple" | "frequency" | "duty" | "ohms" | "shape" | "alone" | "checked")[]
gain?: StageGain
readings: StageRead[]
diagnosis?: CircuitDiagnosis
doubt?: StageDoubt
follows: StageFollows[]
entries: StageNoted[]
grounds: StageGround[]
bench: string[]
condemned?: StageCondemned
renewed: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageNode".
 */
export interface StageNode {
node: string
computed: number
within: number
manual?: number
measured?: number
off?: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StagePart".
 */
export interface StagePart {
name: string
volts: number
amps: number
watts: number
rated?: number
bias?: number
kind: string
value: string
in?: string
weight: number
checked?: string
condemned?: boolean
tooWarm?: boolean
checkFor: string
valued: boolean
biasAt: string
parallel?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageGain".
 */
export interface StageGain {
hz: number
computed: number
low: number
high: number
manual?: number
measured?: number
off?: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageRead".
 */
export interface StageRead {
what: ("dc" | "gain" | "ripple" | "frequency" | "duty" | "ohms" | "shape" | "alone" | "checked")
node?: string
to?: string
from?: string
part?: string
hz?: string
drive?: string
value: string
error?: string
text: string
id: string
bench: boolean
at: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageDoubt".
 */
export interface StageDoubt {
says: string
untold: boolean
asIf: CircuitAsIf[]
parts: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageFollows".
 */
export interface StageFollows {
place: string
weight: number
cause: string
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageNoted".
 */
export interface StageNoted {
id: string
stage: string
at: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
reading?: CircuitNodeReading
check?: StageCheck
provoked?: StageProvoked
condemned?: StageCondemned
says: string
earlier: boolean
verdict?: PartVerdict
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageCheck".
 */
export interface StageCheck {
part: string
kind: string
given: {
[k: string]: string
}
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageProvoked".
 */
export interface StageProvoked {
place: string
act: ("tap" | "flex" | "cool" | "heat" | "wiggle" | "work")
came: ("comes" | "goes" | "nothing")
picture?: string
x?: number
y?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageCondemned".
 */
export interface StageCondemned {
part: string
what: string
why: string[]
found?: ("bad" | "wrong" | "precaution")
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PartVerdict".
 */
export interface PartVerdict {
judgement: ("good" | "bad" | "not sure")
what: string
why: string[]
limits: string[]
sure: string[]
wrong: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageGround".
 */
export interface StageGround {
part: string
what: string
why: string[]
wrong: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PartCheck".
 */
export interface PartCheck {
name: string
title: string
caution: string
fields: PartField[]
letters: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PartField".
 */
export interface PartField {
name: string
title: string
hint: string
needed: boolean
choices?: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "InsideWave".
 */
export interface InsideWave {
wave: (StageWave | null)
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageWave".
 */
export interface StageWave {
node: string
interval: number
drive: number
hz: number
healthy: number[]
faulty: number[]
fault: string
due: number
measured: number[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "InstrumentsView".
 */
export interface InstrumentsView {
instruments: BenchInstrument[]
usual: {
[k: string]: string
}
practice: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "IntakeEarlier".
 */
export interface IntakeEarlier {
number: number
bySerial: boolean
finished: (string | null)
outcome: string
stages: string[]
under: boolean
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "IntakeView".
 */
export interface IntakeView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
fields: Asked[]
pasts: PastChoice[]
pictures: string[]
matrix: (Matrix | null)
stages: string[]
offers: IntakeOffer[]
symptoms: NotedSymptom[]
whose: Asked[]
earlier: IntakeEarlier[]
probe: (Probe | null)
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PastChoice".
 */
export interface PastChoice {
key: string
name: string
points: string
on: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Matrix".
 */
export interface Matrix {
entries: Exit[]
exits: Exit[]
rows: Row[]
left: Suspected[]
blocks: number
best: (Best | null)
clash: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Row".
 */
export interface Row {
mode: string
entry: string
without: string[]
cells: Trial[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Trial".
 */
export interface Trial {
exit: string
there: boolean
mark: ("" | "ok" | "none" | "weak" | "partly" | "hum" | "noisy" | "crackle" | "distorted" | "cuts out" | "open" | "warm" | "cold")
was: ("" | "ok" | "none" | "weak" | "partly" | "hum" | "noisy" | "crackle" | "distorted" | "cuts out" | "open" | "warm" | "cold")
reading: string
clears: string[]
leaves: string[]
partly: string[]
bits: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Suspected".
 */
export interface Suspected {
name: string
rail: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Invitation".
 */
export interface Invitation {
job?: number
sheet?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Kept".
 */
export interface Kept {
id: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "KeptCircuit".
 */
export interface KeptCircuit {
revision: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Lender".
 */
export interface Lender {
whose: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LevelText".
 */
export interface LevelText {
text: string
reference: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Line".
 */
export interface Line {
id: string
kind: ("screws" | "plug" | "wires" | "clips" | "board" | "part" | "renew")
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LineRead".
 */
export interface LineRead {
says: string
mind: string
problem: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ListedType".
 */
export interface ListedType {
type: string
kind: ("transistor" | "mosfet" | "jfet" | "diode" | "rectifier" | "zener" | "bridge" | "op-amp" | "comparator" | "timer" | "switch" | "regulator" | "reference" | "optocoupler" | "tube" | "module")
/**
 * npn, pnp, n, p, positive, negative
 */
polarity?: string
/**
 * silicon or germanium
 */
material?: string
/**
 * the most that it bears; of a zener its voltage
 */
volts?: string
/**
 * the most that it carries
 */
amps?: string
/**
 * the most heat at 25 °C
 */
watts?: string
/**
 * where those 25 °C are: air or case
 */
heat?: string
/**
 * 110-800; 40- where only the least is known
 */
gain?: string
/**
 * the current of that gain, or of a zener's voltage
 */
at?: string
/**
 * transition frequency
 */
frequency?: string
capacitance?: string
/**
 * reverse recovery
 */
speed?: string
/**
 * forward drop; of a regulator its output
 */
drop?: string
/**
 * threshold or pinch-off, 2-4 V
 */
threshold?: string
case?: string
/**
 * their order as the case is seen: E B C
 */
legs?: string
/**
 * of the other polarity
 */
pair?: string
note?: string
own: boolean
sure: string
seen: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LogLine".
 */
export interface LogLine {
t: number[]
least: number[]
greatest: number[]
breaks: number[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LogSource".
 */
export interface LogSource {
id: string
name: string
standIn: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "LookedAt".
 */
export interface LookedAt {
name: string
seen: ("parts" | "copper" | "drawing" | "other")
turn: number
mirror: boolean
struck: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Mark".
 */
export interface Mark {
id: string
mode: string
entry: string
exit: string
without: string[]
word: ("" | "ok" | "none" | "weak" | "partly" | "hum" | "noisy" | "crackle" | "distorted" | "cuts out" | "open" | "warm" | "cold")
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Me".
 */
export interface Me {
here: boolean
open: boolean
name: string
initials: string
job?: number
sheet?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "MenuFound".
 */
export interface MenuFound {
id: string
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ModelView".
 */
export interface ModelView {
id: number
set: string
kind: string
page: PastPage
ofKind: PastPage
usual: IntakeOffer[]
modifications: string[]
pictures: string[]
joined: SheetName[]
alike: SheetName[]
lenders: PastWhose[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PastPage".
 */
export interface PastPage {
says: string
jobs: number
lent: number
whose: PastWhose[]
faults: PastFault[]
listed: PastListed[]
minutes: number
back: number
gaveUp: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PastWhose".
 */
export interface PastWhose {
whose: string
jobs: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PastFault".
 */
export interface PastFault {
block: string
part: string
what: string
times: number
lent: number
after: string[]
minutes: number
mistaken: string[]
back: number
jobs: number[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PastListed".
 */
export interface PastListed {
number: number
finished: string
set: string
complaint: string
was: string
minutes: number
back: boolean
gaveUp: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SheetName".
 */
export interface SheetName {
id: number
name: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Modification".
 */
export interface Modification {
what: string
stage?: string
/**
 * the reason
 */
why?: string
/**
 * what is cut, fitted and joined, in words
 */
how?: string
job?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Modified".
 */
export interface Modified {
what: string
stage?: string
/**
 * the reason
 */
why?: string
/**
 * what is cut, fitted and joined, in words
 */
how?: string
job?: string
drawn: boolean
here: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Named".
 */
export interface Named {
name?: string
initials: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NamedAdjustment".
 */
export interface NamedAdjustment {
revision: number
was?: string
name: string
/**
 * bias, offset, null, oscillator, supply and so on
 */
kind?: string
/**
 * what is turned, bent or chosen: VR301, T4, an item of the set's own menu
 */
turn?: string
/**
 * TP7, TP7 to TP8, across R313; picture or sound
 */
measure?: string
/**
 * where the target's unit does not say it
 */
quantity?: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")
/**
 * 12 mV, least, most, by eye, by ear
 */
target?: string
tolerance?: string
conditions?: string[]
/**
 * minutes that the set is on before
 */
warm?: string
/**
 * adjustments that move this one, and are made before it
 */
after?: string[]
/**
 * of the resistor that the voltage is read across
 */
ohms?: string
/**
 * across what that current heats: a rail, or a voltage
 */
volts?: string
/**
 * of the control from stop to stop; 0.75 understood
 */
turns?: string
/**
 * what may go wrong
 */
beware?: string
/**
 * the stage or rail that it is in, whose circuit computes it
 */
stage?: string
/**
 * the same adjustment of the other channel
 */
twin?: string
/**
 * what the manual says instead
 */
manual?: string
/**
 * why the workshop does it in its own way
 */
why?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NamedClosing".
 */
export interface NamedClosing {
revision: number
was?: string
name: string
/**
 * power, response, hum, works and so on
 */
kind?: string
/**
 * where it is read: an exit, a point
 */
at?: string
/**
 * the other channel's exit, for separation
 */
other?: string
/**
 * where the signal is fed in
 */
from?: string
mode?: string
/**
 * what is fed in; empty: as the sheet has it there
 */
level?: string
/**
 * of what is fed in; a response is told against the one that the sheet feeds in, or 1 kHz
 */
frequencies?: string[]
/**
 * what the exit works into: 8 Ω
 */
load?: string
least?: string
most?: string
conditions?: string[]
note?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NamedModification".
 */
export interface NamedModification {
revision: number
what: string
stage?: string
/**
 * the reason
 */
why?: string
/**
 * what is cut, fitted and joined, in words
 */
how?: string
job?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NetworkFound".
 */
export interface NetworkFound {
name: string
value: string
told: boolean
off: number
made: NetworkMade[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NetworkMade".
 */
export interface NetworkMade {
text: string
off: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NetworkResult".
 */
export interface NetworkResult {
says: string
parts: NetworkFound[]
wanted: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NewJob".
 */
export interface NewJob {
id?: string
sheet?: number
like?: number
pattern?: string
chosen?: PatternChosen
set?: string
complaint: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Noted".
 */
export interface Noted {
field: string
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "NotedWait".
 */
export interface NotedWait {
id: string
at: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
wait?: Wait
over?: WaitOver
says: string
standing: boolean
late: boolean
ended: (string | null)
how: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Wait".
 */
export interface Wait {
for: ("part" | "manual" | "owner" | "other")
what: string
until?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WaitOver".
 */
export interface WaitOver {
entry: string
how?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Nothing".
 */
export interface Nothing {

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
 * via the `definition` "Other".
 */
export interface Other {
sheet: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Outcome".
 */
export interface Outcome {
outcome: string
stage: string
without?: RepairWithout[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "OwnJob".
 */
export interface OwnJob {
number: number
set: string
complaint: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PackageKept".
 */
export interface PackageKept {
id: string
stage: string
package: string
readings: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PackageList".
 */
export interface PackageList {
packages: ReplacePackage[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplacePackage".
 */
export interface ReplacePackage {
name: string
stage: string
inside: string
pins: ReplacePin[]
parts: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplacePin".
 */
export interface ReplacePin {
pin: string
node: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PackageRead".
 */
export interface PackageRead {
stage: string
package: string
readings: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PartKinds".
 */
export interface PartKinds {
checks: PartCheck[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PartQuestion".
 */
export interface PartQuestion {
kind: string
given: {
[k: string]: string
}
job?: number
stage?: string
part?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PhoneSet".
 */
export interface PhoneSet {
set: string
job: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PhoneView".
 */
export interface PhoneView {
ways: PhoneWay[]
for: string
until: string
says: string
encrypted: boolean
fingerprint: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PhoneWay".
 */
export interface PhoneWay {
address: string
qr: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Piece".
 */
export interface Piece {
name: string
kind?: string
point?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Pinned".
 */
export interface Pinned {
changes: number
name: string
page?: number
x: number
y: number
doubt?: boolean
out?: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PlotChoice".
 */
export interface PlotChoice {
id: string
name: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Point".
 */
export interface Point {
name: string
drawing?: string
/**
 * what or where it is, in a few words
 */
note?: string
/**
 * source resistance seen by a probe, for example 10k
 */
source?: string
/**
 * minutes to get a probe there
 */
minutes?: string
/**
 * what to beware of at this point
 */
hazard?: string
/**
 * the same place in the other channel
 */
twin?: string
/**
 * highest voltage to ground with pulses, for example 1.2 kV, where it is above what is expected here
 */
peak?: string
/**
 * names that it had before
 */
was?: string[]
expect: Expectation[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "PracticeView".
 */
export interface PracticeView {
job: number
mode: string
on: boolean
probe: string
second: string
generator: string
inputs?: string[]
generating: string
here: boolean
hidden: boolean
fault: StandinFault
blocks: string[]
capacitors: string[]
effects: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StandinFault".
 */
export interface StandinFault {
block: string
effect: string
size?: number
part?: string
what?: string
/**
 * seconds of a long run after which it comes
 */
after?: number
/**
 * warm or moved; absent: all the time
 */
when?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Practising".
 */
export interface Practising {
fault: StandinFault
draw: boolean
reveal: boolean
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
 * via the `definition` "Put".
 */
export interface Put {
lines?: string
kept?: ReplaceKept[]
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
 * via the `definition` "Question".
 */
export interface Question {
sheet: (Sheet | null)
conditions: Conditions
readings: Typed[]
repairs?: Between[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Sheet".
 */
export interface Sheet {
format: "steptrace-sheet"
version: 1
maker?: string
model: string
/**
 * what the set is: tape deck, receiver, amplifier
 */
kind?: string
note?: string
/**
 * how the controls stand for the expected values
 */
settings?: string
points: Point[]
stages: Stage[]
rails: Rail[]
routes: RouteName[]
controls?: Control[]
reservoirs?: Reservoir[]
tracks?: Track[]
hazards?: Hazard[]
weakSpots?: WeakSpot[]
complaints?: Complaint[]
circuits?: SheetCircuit[]
modifications?: Modification[]
adjustments?: Adjustment[]
closing?: Closing[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Stage".
 */
export interface Stage {
name: string
kind?: string
from: string
to: string
gain?: string
limit?: string
rails?: string[]
/**
 * controls, grounds, and points whose signal it needs
 */
needs?: string[]
modes?: string[]
note?: string
/**
 * names that it had before
 */
was?: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Rail".
 */
export interface Rail {
name: string
/**
 * 24 V; 6.3 Vac where it alternates
 */
value: string
tolerance?: string
point?: string
/**
 * highest on a good set, peak to peak
 */
ripple?: string
rippleFrequency?: string
/**
 * current it gives, for example 350 mA
 */
load?: string
/**
 * least resistance to ground on a good set that is off
 */
ohms?: string
/**
 * winding, another rail, or a point whose signal it is made from
 */
from?: string
fuse?: string
/**
 * half wave, full wave or switching; the parts' names may follow
 */
rectifier?: string
regulator?: string
up?: ("mains" | "start")
/**
 * 1 for the first to come up
 */
order?: string
note?: string
/**
 * names that it had before
 */
was?: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RouteName".
 */
export interface RouteName {
name: string
from: string
to: string
mode?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Reservoir".
 */
export interface Reservoir {
name: string
rail?: string
farads: string
volts?: string
/**
 * resistance that empties it by itself
 */
bleeder?: string
note?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Track".
 */
export interface Track {
rail: string
place: string
after?: string
/**
 * of the copper from the place before, for example 4 mΩ
 */
ohms?: string
opens?: string
/**
 * parts and stages fed there
 */
hangs?: string[]
/**
 * to lift one of them
 */
minutes?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WeakSpot".
 */
export interface WeakSpot {
stage: string
what: string
symptom?: string
/**
 * the cheap check that shows it
 */
check?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SheetCircuit".
 */
export interface SheetCircuit {
stage: string
parts: CircuitPart[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Typed".
 */
export interface Typed {
id: string
point: string
quantity?: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")
text: string
without?: string[]
worked?: boolean
readOff?: boolean
capture?: string
settings?: string
conditions: Conditions
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "QuickView".
 */
export interface QuickView {
quick: TrainingQuick
skills: TrainingSkill[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingQuick".
 */
export interface TrainingQuick {
kind: ("which part" | "which stage" | "what is left" | "what is weak" | "what is it" | "what fits")
seed: number
ask: string
facts: TrainingFact[]
traces: TrainingTrace[]
circuit: (TrainingDrawn | null)
choices: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingFact".
 */
export interface TrainingFact {
name: string
due: string
reads: string
off: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingTrace".
 */
export interface TrainingTrace {
name: string
seconds: number
good: number[]
is: number[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingDrawn".
 */
export interface TrainingDrawn {
stage: string
figure: CircuitFigure
nodes: StageNode[]
parts: StagePart[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Reason".
 */
export interface Reason {
reason?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReferenceChoice".
 */
export interface ReferenceChoice {
key: string
name: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Refusal".
 */
export interface Refusal {
point: string
why: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RepairEntry".
 */
export interface RepairEntry {
id: string
at: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
repair?: Repair
temporary?: RepairTemporary
removed?: RepairRemoved
without?: RepairWithout
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RepairForm".
 */
export interface RepairForm {
dids: ("replaced" | "re-soldered" | "cleaned" | "track mended" | "adjusted" | "wiring put right" | "modified")[]
stopgaps: ("fuse bridged" | "jumper" | "lifted" | "fed from outside" | "good one swapped in")[]
fuses: string[]
places: FittedPlace[]
stage: string
sheet: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceBar".
 */
export interface ReplaceBar {
what: string
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceBeside".
 */
export interface ReplaceBeside {
part: string
why: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceChosen".
 */
export interface ReplaceChosen {
part: string
new: string
from: ("drawer" | "order")
count: number
price?: string
why?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceDone".
 */
export interface ReplaceDone {
step: string
text: string
note?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceEntry".
 */
export interface ReplaceEntry {
id: string
at: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
subject?: ReplaceSubject
chosen?: ReplaceChosen
done?: ReplaceDone
/**
 * parts to be renewed, a line each: C101 47u 63v electrolytic; coupling, 24 V
 */
list?: string
tested?: ReplaceTested
school?: ("renew all of an age" | "renew what tests bad" | "a better kind of today" | "the kind that was there" | "mica and paste" | "a pad" | "touch up a hot chip's joints" | "change the board")
board?: ("phenolic, one side" | "glass, plated through" | "multilayer, ground planes" | "surface mount" | "fine pitch" | "balls under a chip" | "old or lifted tracks" | "tags, no board")
worked?: ReplaceWorked
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceSubject".
 */
export interface ReplaceSubject {
part: string
stage?: string
was?: string
duty?: string
dropped?: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceTested".
 */
export interface ReplaceTested {
part: string
new?: boolean
given: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceWorked".
 */
export interface ReplaceWorked {
asked: string
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceHeld".
 */
export interface ReplaceHeld {
part: string
due: string
stands: ("good" | "bad" | "not sure")
says: string
moves: string
keeps: string
made: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceOffer".
 */
export interface ReplaceOffer {
new: string
says: string
about: string
drawer: number
place: string
verdict: SubstituteVerdict
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SubstituteVerdict".
 */
export interface SubstituteVerdict {
grade: ("fits as it is" | "fits with a change" | "does not fit")
changes: string[]
against: string[]
mind: string[]
bars: SubstituteBar[]
fitting?: DeviceFitting
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SubstituteBar".
 */
export interface SubstituteBar {
what: string
needed: number
has: number
unit: string
atMost: boolean
met: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceOpened".
 */
export interface ReplaceOpened {
says: string
parts: NetworkFound[]
wanted: string[]
held: ReplaceHeld[]
rebuild: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceOrderLine".
 */
export interface ReplaceOrderLine {
what: string
count: number
for: string[]
drawer: boolean
place: string
price: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplacePart".
 */
export interface ReplacePart {
part: string
stage: string
what: string
was: string
sort: string
duty: string
new: string
did?: ("replaced" | "re-soldered" | "cleaned" | "track mended" | "adjusted" | "wiring put right" | "modified")
chosen?: ReplaceChosen
against: boolean
fitted: boolean
says: string
in: boolean
condemned: boolean
listed: boolean
tests: ReplaceTest[]
advice: ("renew" | "test first" | "stays")
why: string
beside: ReplaceBeside[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceTest".
 */
export interface ReplaceTest {
new: boolean
given: string
judgement: ("good" | "bad" | "not sure")
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceReasoned".
 */
export interface ReplaceReasoned {
group: number
school: ("renew all of an age" | "renew what tests bad" | "a better kind of today" | "the kind that was there" | "mica and paste" | "a pad" | "touch up a hot chip's joints" | "change the board")
speaks: string
chosen: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceStep".
 */
export interface ReplaceStep {
key: string
text: string
caution: string
part: string
done: boolean
entry: string
at: string
note: string
pictures: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceSum".
 */
export interface ReplaceSum {
asked: string
says: string
entry: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReplaceView".
 */
export interface ReplaceView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
says: string
parts: ReplacePart[]
at: number
offers: ReplaceOffer[]
tried?: ReplaceOffer
trouble: string
known: ReplaceBar[]
board: ("phenolic, one side" | "glass, plated through" | "multilayer, ground planes" | "surface mount" | "fine pitch" | "balls under a chip" | "old or lifted tracks" | "tags, no board")
boards: ("phenolic, one side" | "glass, plated through" | "multilayer, ground planes" | "surface mount" | "fine pitch" | "balls under a chip" | "old or lifted tracks" | "tags, no board")[]
steps: ReplaceStep[]
orders: ReplaceOrderLine[]
words: string
schools: ReplaceReasoned[]
sums: ReplaceSum[]
circuits: string
asks: string[]
modifications: Modified[]
revision: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Report".
 */
export interface Report {
sections: ReportSection[]
figures: ReportFigure[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReportSection".
 */
export interface ReportSection {
key: string
title: string
hint: string
text: string
made: string
edited: boolean
leftOut: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReportFigure".
 */
export interface ReportFigure {
name: string
means: string
before: string
after: string
allowed: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReportEntry".
 */
export interface ReportEntry {
id: string
at: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
section: string
text?: string
leftOut?: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReportView".
 */
export interface ReportView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
report: Report
whose: Asked[]
shop: ShopSettings
pictures: string[]
plots: PlotChoice[]
chosen: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ShopSettings".
 */
export interface ShopSettings {
name: string
address: string
/**
 * its mark: €, kr
 */
currency: string
/**
 * of an hour
 */
rate: string
/**
 * of warranty
 */
months: number
/**
 * what it stands for, and not
 */
warranty: string
/**
 * the last line of a report
 */
thanks: string
paper: ("A4" | "letter")
times?: {
[k: string]: string
}
prices?: {
[k: string]: string
}
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ReservoirView".
 */
export interface ReservoirView {
name: string
rail: string
note: string
farads: string
volts: string
bleeder: string
discharge: SafetyDischarge
measured: string
safe: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SafetyDischarge".
 */
export interface SafetyDischarge {
joules: number
exact: number
ohms: number
seconds: number
peakWatts: number
meanWatts: number
ratedWatts: number
bleederSeconds: number
throughSeconds: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Restored".
 */
export interface Restored {
name: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Revised".
 */
export interface Revised {
revision: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RippleAnswer".
 */
export interface RippleAnswer {
farads: number
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "RippleQuestion".
 */
export interface RippleQuestion {
load: string
frequency: string
ripple: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SafetyView".
 */
export interface SafetyView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
cautions: CautionView[]
deferral: string
reservoirs: ReservoirView[]
below: string
seconds: string
through: string
refused: Refusal[]
instrument: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Said".
 */
export interface Said {
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SavedSheet".
 */
export interface SavedSheet {
id?: string
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
title: string
empty: string
columns: Column[]
rows: string[][]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Sealed".
 */
export interface Sealed {
inside: string
readings: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Seen".
 */
export interface Seen {
name: string
unit: string
kind: string
list: Figure[]
response: (Spectrum | null)
comparison: (Comparison | null)
against: string
whole: Strip
few: Strip
reference: string
references: ReferenceChoice[]
spectrum: Spectrum
understood: string[]
between: Figure[]
rises: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SheetChoice".
 */
export interface SheetChoice {
id: number
name: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SheetList".
 */
export interface SheetList {
sheets: SheetRow[]
total: number
more: string
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
doubts: number
blocked: boolean
jobs: number
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
day: ShopLine[]
bench: number
waiting: number
finished: number
more: string
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
state: ("" | "tracing" | "named" | "clean" | "source" | "conflict" | "verifying" | "repaired" | "stuck" | "elsewhere" | "supply")
points: ShelfPoint[]
waits: WaitEntry[]
waiting: string
late: boolean
promised: string
ready: boolean
stands: string
costing: Costing
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ShelfPoint".
 */
export interface ShelfPoint {
due?: number
read?: number
verdict?: ("" | "unjudged" | "within" | "low" | "partly" | "high" | "absent" | "distorted" | "noisy" | "hum" | "off-frequency" | "intermittent")
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WaitEntry".
 */
export interface WaitEntry {
id: string
at: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
wait?: Wait
over?: WaitOver
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ShopLine".
 */
export interface ShopLine {
number: number
set: string
what: ("promised" | "waits" | "soak" | "ready" | "limit")
text: string
late: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ShopView".
 */
export interface ShopView {
shop: ShopSettings
papers: ("A4" | "letter")[]
times: UsualTime[]
prices: UsualPrice[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "UsualTime".
 */
export interface UsualTime {
step: ("prepare" | "trace" | "inside" | "replace" | "prove")
name: string
usual: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "UsualPrice".
 */
export interface UsualPrice {
class: ("solder" | "small part" | "power part" | "chip" | "relay, switch, control or plug" | "transformer, coil or loudspeaker")
usual: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ShortPlace".
 */
export interface ShortPlace {
before: number
ohms: string
volts: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ShortQuestion".
 */
export interface ShortQuestion {
places: ShortPlace[]
feed: number
amps: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoakDoing".
 */
export interface SoakDoing {
do: ("stop" | "on" | "note" | "end")
text?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoakEvent".
 */
export interface SoakEvent {
soak: string
t: number
for?: number
what: ("limit" | "foreseen" | "stopped" | "went on" | "gap" | "away" | "set back" | "note")
trace?: string
text?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoakLog".
 */
export interface SoakLog {
from: number
to: number
traces: LogLine[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoakPlan".
 */
export interface SoakPlan {
steps: SoakStep[]
traces: SoakTrace[]
every?: number
remind?: number
speed?: number
/**
 * what feeds the signal in; empty: the generator
 */
by?: ("" | "sound")
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoakStep".
 */
export interface SoakStep {
name: string
do: ("cold start" | "idle" | "drive" | "off and on" | "heat" | "cool" | "tap" | "measure")
minutes: number
signal?: SoakSignal
note?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoakSignal".
 */
export interface SoakSignal {
level: string
from: string
to?: string
sweep?: number
rest?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoakTrace".
 */
export interface SoakTrace {
name: string
what: ("temperature" | "level" | "offset" | "supply current" | "bias" | "noise" | "rail" | "mains power")
where?: string
twin?: string
instrument?: string
input?: number
most?: string
least?: string
apart?: string
rate?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoakState".
 */
export interface SoakState {
t: number
headline: string
why: string
look: string
bad: boolean
stop: boolean
traces: SoakTraceState[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoakTraceState".
 */
export interface SoakTraceState {
name: string
what: ("temperature" | "level" | "offset" | "supply current" | "bias" | "noise" | "rail" | "mains power")
unit: string
where: string
typed: boolean
due: boolean
limits: string[]
most: (number | null)
least: (number | null)
seen: boolean
now: number
text: string
at: number
verdict: ("within" | "above" | "below" | "will pass" | "apart" | "fast" | "silent" | "")
says: string
end: (SoakTold | null)
endText: string
tau: number
rate: number
aheadFrom: number
aheadStep: number
ahead: number[]
give: number[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoakTold".
 */
export interface SoakTold {
v: number
give: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoakValue".
 */
export interface SoakValue {
trace: string
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoakView".
 */
export interface SoakView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
begun: boolean
running: boolean
id: string
started: (string | null)
plan: SoakPlan
ends: number[]
step: number
since: number
feeding: string
driven: boolean
state: SoakState
events: SoakEvent[]
ended: string
through: boolean
offer: SoakPlan
loggers: LogSource[]
whats: ("temperature" | "level" | "offset" | "supply current" | "bias" | "noise" | "rail" | "mains power")[]
dos: ("cold start" | "idle" | "drive" | "off and on" | "heat" | "cool" | "tap" | "measure")[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoundLevel".
 */
export interface SoundLevel {
device: string
way: ("in" | "out")
volts: number
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SoundLevels".
 */
export interface SoundLevels {
levels: SoundLevel[]
shapes: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SpentOn".
 */
export interface SpentOn {
name: string
minutes: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageCircuit".
 */
export interface StageCircuit {
revision: number
stage: string
rows: string[][]
family?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StageEntry".
 */
export interface StageEntry {
id: string
stage: string
at: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
reading?: CircuitNodeReading
check?: StageCheck
provoked?: StageProvoked
condemned?: StageCondemned
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StepView".
 */
export interface StepView {
id: string
kind: ("screws" | "plug" | "wires" | "clips" | "board" | "part" | "renew")
text: string
count: number
what: string
where?: string
mind?: string
washers?: boolean
lock?: boolean
tag?: string
colour?: string
from?: string
to?: string
/**
 * ids of its pictures, which name it themselves
 */
pictures?: string[]
taken: string
who?: string
struck?: string
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Stretch".
 */
export interface Stretch {
list: Figure[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StripAssembly".
 */
export interface StripAssembly {
steps: StripBack[]
tallies: StripTally[]
over: string[]
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StripBack".
 */
export interface StripBack {
step: StripStep
says: string
in: number
done: boolean
touched: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StripStep".
 */
export interface StripStep {
id: string
kind: ("screws" | "plug" | "wires" | "clips" | "board" | "part" | "renew")
text: string
count: number
what: string
where?: string
mind?: string
washers?: boolean
lock?: boolean
tag?: string
colour?: string
from?: string
to?: string
/**
 * ids of its pictures, which name it themselves
 */
pictures?: string[]
taken: string
who?: string
struck?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StripTally".
 */
export interface StripTally {
kind: ("screws" | "plug" | "wires" | "clips" | "board" | "part" | "renew")
what: string
out: number
in: number
over: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StripSort".
 */
export interface StripSort {
kind: ("screws" | "plug" | "wires" | "clips" | "board" | "part" | "renew")
key: string
name: string
hint: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "StripView".
 */
export interface StripView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
sorts: StripSort[]
steps: StepView[]
assembly: StripAssembly
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Substitutes".
 */
export interface Substitutes {
sort: string
trouble: string
offers: ReplaceOffer[]
tried?: ReplaceOffer
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SumLine".
 */
export interface SumLine {
what: string
text: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Summed".
 */
export interface Summed {
asked: string
says: string
lines: SumLine[]
examples: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SymptomChoice".
 */
export interface SymptomChoice {
key: string
sense: ("seen" | "heard" | "lit")
name: string
shows: string
look: string[]
pointsAt: SymptomPointed[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SymptomEntry".
 */
export interface SymptomEntry {
id: string
at: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
key: string
count?: number
when?: ("cold" | "warm" | "knock" | "turned" | "source")[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "SymptomsView".
 */
export interface SymptomsView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
choices: SymptomChoice[]
noted: NotedSymptom[]
first: ("seen" | "heard" | "lit")
whens: Circumstance[]
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
 * via the `definition` "ToClose".
 */
export interface ToClose {
id: string
item: string
text?: string
without?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ToGrow".
 */
export interface ToGrow {
revision: number
do: ("name" | "divide" | "remove" | "expect" | "entry" | "exit" | "rail" | "control" | "alike" | "take")
at: string
name?: string
into?: Piece[]
quantity?: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")
value?: string
mode?: string
from?: string
values?: Due[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ToMeasure".
 */
export interface ToMeasure {
what: ("dc" | "ac" | "frequency" | "resistance" | "capacitance" | "esr")
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ToSoak".
 */
export interface ToSoak {
id: string
plan: SoakPlan
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ToTake".
 */
export interface ToTake {
id: string
point: string
quantity?: ("ac" | "dc" | "frequency" | "resistance" | "current" | "power" | "deviation" | "distortion" | "temperature" | "" | "track" | "provocation")
text: string
without?: string[]
worked?: boolean
readOff?: boolean
capture?: string
settings?: string
conditions: Conditions
second?: string
mains?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "ToWatch".
 */
export interface ToWatch {
adjustment: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingFace".
 */
export interface TrainingFace {
trace: number[]
across: number
high: number
volts: number
seconds: number
figure: string
moves: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingLesson".
 */
export interface TrainingLesson {
number: number
title: string
text: string[]
level: ("first steps" | "usual" | "long" | "hard")
kind: string
set: string
done: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingPhaseStand".
 */
export interface TrainingPhaseStand {
phase: string
of: number
right: number
last: boolean[]
running: number
due: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingReplay".
 */
export interface TrainingReplay {
id: string
point: string
findings: Findings
at: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingResult".
 */
export interface TrainingResult {
format: "steptrace-result"
version: 1
who: string
case: string
set: string
level: ("first steps" | "usual" | "long" | "hard")
ended: string
found: number
faults: number
inVain: number
minutes: number
probes: number
bestProbes: number
bestMinutes: number
lost: number
stopped: number
asked: number
costliest: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingStand".
 */
export interface TrainingStand {
kind: string
of: number
right: number
last: boolean[]
running: number
due: number
minutes: number
best: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TrainingView".
 */
export interface TrainingView {
levels: ("first steps" | "usual" | "long" | "hard")[]
kinds: string[]
sets: string[]
sheets: SheetChoice[]
jobs: OwnJob[]
cases: DrawnCase[]
stands: TrainingStand[]
steps: TrainingPhaseStand[]
course: TrainingLesson[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "TypesView".
 */
export interface TypesView {
types: ListedType[]
count: number
kinds: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WaitsView".
 */
export interface WaitsView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
fors: ("part" | "manual" | "owner" | "other")[]
waits: NotedWait[]
asked: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Waiver".
 */
export interface Waiver {
stage: string
key: string
reason: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Wanted".
 */
export interface Wanted {
was: string
duty?: string
try?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WaveView".
 */
export interface WaveView {
rate: number
samples: number
seconds: number
understood: string[]
channels: ChannelView[]
between: Figure[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WholeTaken".
 */
export interface WholeTaken {
sheets: number
jobs: number
here: number
other: number
moved: string[]
refused: string[]
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "Wish".
 */
export interface Wish {
id?: string
level: ("first steps" | "usual" | "long" | "hard")
kind?: string
set?: string
sheet?: number
job?: number
lesson?: number
advice?: ("hidden" | "asked" | "shown")
seed?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthAnswer".
 */
export interface WorthAnswer {
goOn: boolean
most?: string
note?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthChance".
 */
export interface WorthChance {
key: string
name: string
is: number
why: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthDecision".
 */
export interface WorthDecision {
choice: ("" | "repair" | "board" | "another" | "ask" | "leave")
why: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthEntry".
 */
export interface WorthEntry {
id: string
at: string
who?: string
/**
 * withdrawn, but kept
 */
struck?: boolean
seen?: WorthSeen
offer?: WorthOffer
estimate?: WorthEstimate
answer?: WorthAnswer
decision?: WorthDecision
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthSeen".
 */
export interface WorthSeen {
key: string
not?: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthOffer".
 */
export interface WorthOffer {
what: ("" | "repair" | "board" | "another" | "ask" | "leave")
name?: string
price?: string
minutes?: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthEstimate".
 */
export interface WorthEstimate {
low: string
high: string
until?: string
text?: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthObstacle".
 */
export interface WorthObstacle {
key: string
name: string
found: number
had: number
lasts: number
is: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthRange".
 */
export interface WorthRange {
low: number
mid: number
high: number
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthStand".
 */
export interface WorthStand {
choice: ("" | "repair" | "board" | "another" | "ask" | "leave")
name: string
minutes: (WorthRange | null)
cost: (WorthRange | null)
works: number
leaves: (number | null)
leavesSays: string
for: string[]
against: string[]
open: string
best: boolean
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthSuspect".
 */
export interface WorthSuspect {
name: string
kind: string
share: number
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthTold".
 */
export interface WorthTold {
id: string
at: string
says: string
}
/**
 * This interface was referenced by `Wire`'s JSON-Schema
 * via the `definition` "WorthView".
 */
export interface WorthView {
number: number
set: string
sheetId: number
complaint: string
opened: string
finished: (string | null)
power: SafetyPower
problems: Problem[]
before: string[]
done: string[]
next: string
owned: boolean
counts: {
[k: string]: number
}
says: string
limits: string
known: boolean
used: number
left: WorthRange
parts: WorthRange
spent: number
cost: WorthRange
limit: number
value: number
over: number
chances: WorthChance[]
works: number
choices: WorthStand[]
seen: WorthObstacle[]
basis: string
offer: WorthEstimate
offers: WorthOffer[]
given: WorthTold[]
decided: ("" | "repair" | "board" | "another" | "ask" | "leave")
suspects: WorthSuspect[]
spentSays: string
midSays: string
limitSays: string
valueSays: string
valueText: string
limitText: string
rate: string
currency: string
waits: boolean
steps: SpentOn[]
}
