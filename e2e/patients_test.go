package e2e

import (
	"fmt"
	"testing"

	"steptrace/core/planning"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/e2e/browser"
)

func replaced(stage string, parts ...repair.Part) repair.Repair {
	return repair.Repair{Did: repair.Replaced, Stage: stage, Parts: parts}
}

func bad(name, fitted string) repair.Part {
	return repair.Part{Name: name, Found: repair.Bad, Fitted: fitted}
}

// patients are the eight.
func patients() []*patient {
	return []*patient{voices(), deadScreen(), relayRow(), twoBoards(), byTouch(), cracked(), noPilot(), sealed()}
}

// Four pads of a percussion brain, alike; the envelope of the third does not come, since its
// driver is open.
func voices() *patient {
	p := &patient{
		name:       "four like voices",
		complaint:  "Third pad is silent, the other three play.",
		route:      "|O3|OUT",
		instrument: "scope10",
		marks:      []mark{{"O1", "OUT", "ok"}, {"O3", "OUT", "none"}, {"O4", "OUT", "ok"}},
		sheet: `maker,Morvath
model,PD-4
kind,percussion brain

point,drawing,note,stage,kind,ac,frequency,dc,gain,needs,also,from,minutes,twin
O1,,tone 1,,,220 mV,196 Hz,,,,,,1,
E1,,cell 1 out,IC3a cell 1,amplifier,,,,-6 dB,+8 V;-8 V,ENV 1,O1,2,
O2,,tone 2,,,220 mV,247 Hz,,,,,,1,O1
E2,,cell 2 out,IC3b cell 2,amplifier,,,,-6 dB,+8 V;-8 V,ENV 2,O2,2,E1
O3,,tone 3,,,220 mV,294 Hz,,,,,,1,O1
E3,,cell 3 out,IC4a cell 3,amplifier,,,,-6 dB,+8 V;-8 V,ENV 3,O3,2,E1
O4,,tone 4,,,220 mV,330 Hz,,,,,,1,O1
E4,,cell 4 out,IC4b cell 4,amplifier,,,,-6 dB,+8 V;-8 V,ENV 4,O4,2,E1
BUS,,sum,R41 mixing,wire,,,,-8 dB,,,E1,2,
OUT,,line out,IC6 output,amplifier,,,,12 dB,+8 V;-8 V,,BUS,1,

stage,kind,from,to,gain
R42 mixing,wire,E2,BUS,-8 dB
R43 mixing,wire,E3,BUS,-8 dB
R44 mixing,wire,E4,BUS,-8 dB

rail,value,tol
+8 V,8 V,5 %
-8 V,-8 V,5 %

control,does,value,worked,by,driven
ENV 1,gain,3.1 V,0 V,pad 1 at rest,+8 V
ENV 2,gain,3.1 V,0 V,pad 2 at rest,+8 V
ENV 3,gain,3.1 V,0 V,pad 3 at rest,+8 V
ENV 4,gain,3.1 V,0 V,pad 4 at rest,+8 V
`,
		source: map[string]float64{"O1": 0.22, "O2": 0.216, "O3": 0.223, "O4": 0.221},
		shows:  map[string]string{"+8 V dc": "7.97 V", "-8 V dc": "-8.05 V"},
	}
	for _, n := range []string{"1", "2", "3", "4"} {
		p.links = append(
			p.links,
			link{
				map[string]string{"1": "IC3a cell 1", "2": "IC3b cell 2", "3": "IC4a cell 3", "4": "IC4b cell 4"}[n],
				"O" + n,
				"E" + n,
				-6.2,
				"",
			},
			link{"R4" + n + " mixing", "E" + n, "BUS", -8.1, ""},
		)
		p.shows["ENV "+n+" dc"], p.shows["ENV "+n+" dc worked"] = "3.05 V", "20 mV"
		p.shows["O"+n+" frequency"] = map[string]string{"1": "196 Hz", "2": "247 Hz", "3": "294 Hz", "4": "330 Hz"}[n]
	}
	p.links = append(p.links, link{"IC6 output", "BUS", "OUT", 11.8, ""})
	p.faults = []fault{
		{
			shows:  map[string]string{"ENV 3 dc": "18 mV", "ENV 3 dc worked": "18 mV"},
			loses:  map[string]float64{"IC4a cell 3": nothing},
			repair: replaced("ENV 3", bad("TR13", "BC547")),
		},
	}
	return p
}

// A departure board's screen that stays black, no diagram: the rails are all that is known. A
// capacitor on +3.3 V is shorted.
func deadScreen() *patient {
	return &patient{
		name:       "dead screen, no diagram",
		complaint:  "Screen black; it ticks once a second.",
		instrument: "meter",
		way:        "supplies",
		sheet: `maker,Tressow
model,DS-19
kind,screen
note,no diagram; rails as marked at the regulators

rail,value,tol,railohms,feed,regulator,order
+19 V,19 V,5 %,,mains adaptor,,1
+5 V,5 V,5 %,800,+19 V,IC501,2
+3.3 V,3.3 V,5 %,120,+5 V,IC504,3
+1.2 V,1.2 V,5 %,20,+3.3 V,IC507,4

place,onrail,after,trackohms,opens,hangs
L504 out,+3.3 V,,,,C541
J6-3,+3.3 V,L504 out,8 mΩ,ribbon J6,C544;C545
IC601-2,+3.3 V,J6-3,11 mΩ,,IC601;C552

`,
		shows: map[string]string{
			"+19 V dc":          "19.1 V",
			"+5 V dc":           "5.04 V",
			"+3.3 V dc":         "3.31 V",
			"+1.2 V dc":         "1.19 V",
			"+3.3 V resistance": "145",
			"+5 V resistance":   "910",
			"+1.2 V resistance": "26",
		},
		faults: []fault{
			{
				shows: map[string]string{
					"+3.3 V dc":              "0.11 V",
					"+1.2 V dc":              "12 mV",
					"+3.3 V resistance":      "0.6",
					"+3.3 V resistance C541": "0.6",
					"+3.3 V resistance C544": "0.6",
				},
				repair: replaced("+3.3 V", bad("C545", "100 µF 6.3 V")),
			},
		},
		hunted: []planning.Probe{
			{Point: "+3.3 V", Quantity: sheet.Resistance},
			{Point: "+3.3 V", Quantity: sheet.Resistance, Without: []string{"C541"}},
			{Point: "+3.3 V", Quantity: sheet.Resistance, Without: []string{"C544"}},
			{Point: "+3.3 V", Quantity: sheet.Resistance, Without: []string{"C545"}},
		},
		onSupplies: func(t *testing.T, tab *browser.Tab) {
			without := func(name string) string {
				return fmt.Sprintf(`document.querySelector('[data-test=without]')?.innerText.includes(%q)`, name)
			}
			must(
				t,
				tab.Keys("g4"),
				tab.See("Next: Read +3.3 V to ground in ohms"),
				tab.Keys("0.6\r"),
				tab.Until(without("C541")),
				tab.See("Next: Lift C541"),
				tab.Keys("0.6\r"),
				tab.Until(without("C544")),
				tab.Keys("0.61\r"),
				tab.Until(without("C545")),
				tab.Keys("145\r"),
			)
			must(t, tab.See("C545 is the short: with it lifted +3.3 V reads 145 Ω."), tab.Keys("g5"), tab.See("Where it stands"))
		},
	}
}

// A receiver's preselector: a relay in front of each coil and one behind it. The contact
// behind the third coil is burnt.
func relayRow() *patient {
	p := &patient{
		name:       "a row of relays",
		complaint:  "Deaf on band 3, the other bands are lively.",
		route:      "band 3|ANT|MIX",
		instrument: "scope10",
		sheet: `maker,Ostwick
model,PS-6
kind,receiver preselector

point,drawing,note,stage,kind,ac,frequency,gain,needs,also,from,modes,minutes
ANT,,aerial socket,,,2 mV,6.1 MHz,,,,,,1
A1,,in front of L1,K1 contact,relay contact,,,-0.2 dB,,K1 drive,ANT,band 1,3
B1,,behind L1,L1 coil,filter,,,-3 dB,,,A1,band 1,3
A2,,in front of L2,K3 contact,relay contact,,,-0.2 dB,,K3 drive,ANT,band 2,3
B2,,behind L2,L2 coil,filter,,,-3 dB,,,A2,band 2,3
A3,,in front of L3,K5 contact,relay contact,,,-0.2 dB,,K5 drive,ANT,band 3,3
B3,,behind L3,L3 coil,filter,,,-3 dB,,,A3,band 3,3
COM,,common,K2 contact,relay contact,,,-0.2 dB,,K2 drive,B1,band 1,3
MIX,,to the mixer,Q4 amplifier,amplifier,,,14 dB,+13 V,,COM,,2

stage,kind,from,to,gain,also,modes
K4 contact,relay contact,B2,COM,-0.2 dB,K4 drive,band 2
K6 contact,relay contact,B3,COM,-0.2 dB,K6 drive,band 3

rail,value,tol
+13 V,13 V,5 %

control,does,value,worked,by,driven
K1 drive,select,0.2 V,13 V,another band chosen,+13 V
K2 drive,select,0.2 V,13 V,another band chosen,+13 V
K3 drive,select,0.2 V,13 V,another band chosen,+13 V
K4 drive,select,0.2 V,13 V,another band chosen,+13 V
K5 drive,select,0.2 V,13 V,another band chosen,+13 V
K6 drive,select,0.2 V,13 V,another band chosen,+13 V

route,from,to,mode
band 1,ANT,MIX,band 1
band 2,ANT,MIX,band 2
band 3,ANT,MIX,band 3
`,
		links: []link{
			{"K1 contact", "ANT", "A1", -0.3, "band 1"},
			{"L1 coil", "A1", "B1", -2.8, "band 1"},
			{"K2 contact", "B1", "COM", -0.2, "band 1"},
			{"K3 contact", "ANT", "A2", -0.3, "band 2"},
			{"L2 coil", "A2", "B2", -3.1, "band 2"},
			{"K4 contact", "B2", "COM", -0.2, "band 2"},
			{
				"K5 contact",
				"ANT",
				"A3",
				-0.3,
				"band 3",
			},
			{"L3 coil", "A3", "B3", -3.2, "band 3"},
			{"K6 contact", "B3", "COM", -0.3, "band 3"},
			{"Q4 amplifier", "COM", "MIX", 13.7, ""},
		},
		source: map[string]float64{"ANT": 2e-3},
		shows:  map[string]string{"+13 V dc": "13.1 V"},
		faults: []fault{{loses: map[string]float64{"K6 contact": 41}, repair: replaced("K6 contact", bad("K6", "12 V, one make contact"))}},
	}
	for _, k := range []string{"K1", "K2", "K3", "K4", "K5", "K6"} {
		p.shows[k+" drive dc"], p.shows[k+" drive dc worked"] = "0.18 V", "13.0 V"
	}
	return p
}

// A switching amplifier on two boards: the plug between them does not pass the signal.
func twoBoards() *patient {
	return &patient{
		name:       "two boards",
		complaint:  "No sound from either input, protection does not trip.",
		route:      "|LINE|SPK",
		instrument: "scope10",
		sheet: `maker,Hallmere
model,SA-2
kind,switching amplifier

point,drawing,note,stage,kind,ac,frequency,dc,gain,needs,also,minutes,hazard
LINE,,input socket,,,300 mV,1 kHz,,,,,1,
IN2,,volume wiper,VR1 volume,control,,,0 V,-10 dB,,,1,
P3-1,,signal board,IC1 preamp,amplifier,,,0 V,15 dB,+12 V;-12 V,,1,
P3-1',,power board,P3 ribbon,connector,,,0 V,0 dB,,,1,
CMP,,modulator in,IC4 summing,amplifier,,,0 V,0 dB,+12 V;-12 V,,2,
SW,,half bridge,U5 bridge,amplifier,,,,26 dB,+42 V;-42 V;+10 V gate,ENABLE,4,mains heatsink near
LC,,behind L5,L5 filter,filter,,,0 V,-0.3 dB,,,3,
SPK,,terminals,RL1 contact,relay contact,,,0 V,0 dB,,RELAY,1,

rail,value,tol,ripple,feed,fuse,order
+42 V,42 V,10 %,1 Vpp,T1,F2,1
-42 V,-42 V,10 %,1 Vpp,T1,F3,1
+12 V,12 V,5 %,,+42 V,,2
-12 V,-12 V,5 %,,-42 V,,2
+10 V gate,10 V,10 %,,+42 V,,3

control,does,value,worked,by,driven
ENABLE,enable,3.3 V,0 V,standby pressed,+12 V
RELAY,mute,12 V,0 V,standby pressed,+12 V

reservoir,farads,onrail,volts
C31,6800 µF,+42 V,42 V
C32,6800 µF,-42 V,42 V

danger,where
mains,inlet and switch S1
reservoir,C31 and C32
hot parts,heatsink
`,
		links: []link{
			{"VR1 volume", "LINE", "IN2", -10.3, ""},
			{"IC1 preamp", "IN2", "P3-1", 15.2, ""},
			{"P3 ribbon", "P3-1", "P3-1'", 0, ""},
			{"IC4 summing", "P3-1'", "CMP", 0.1, ""},
			{"U5 bridge", "CMP", "SW", 25.6, ""},
			{"L5 filter", "SW", "LC", -0.3, ""},
			{"RL1 contact", "LC", "SPK", 0, ""},
		},
		source: map[string]float64{
			"LINE": 0.3,
		},
		shows: map[string]string{
			"+42 V dc":         "42.6 V",
			"-42 V dc":         "-42.1 V",
			"+12 V dc":         "12.0 V",
			"-12 V dc":         "-11.9 V",
			"+10 V gate dc":    "10.3 V",
			"ENABLE dc":        "3.28 V",
			"ENABLE dc worked": "0 V",
			"RELAY dc":         "11.8 V",
			"RELAY dc worked":  "0 V",
			"IN2 dc":           "0 V",
			"P3-1 dc":          "3 mV",
			"P3-1' dc":         "2 mV",
			"CMP dc":           "4 mV",
			"LC dc":            "12 mV",
			"SPK dc":           "11 mV",
		},
		faults: []fault{
			{
				loses:  map[string]float64{"P3 ribbon": nothing},
				repair: repair.Repair{Did: repair.Resoldered, Stage: "P3 ribbon", Parts: []repair.Part{bad("P3", "")}, Where: "pin 1"},
			},
		},
	}
}

// A children's record player on a battery; no instrument but a finger and the loudspeaker.
func byTouch() *patient {
	return &patient{
		name:       "touch alone",
		complaint:  "Turns, but hardly any sound.",
		route:      "|PU|LS",
		way:        "touch",
		instrument: "none",
		touched:    true,
		exit:       "LS",
		sheet: `maker,Pimlow
model,KR-1
kind,record player

point,drawing,note,stage,kind,gain,needs,minutes
PU,,pickup tags,,,,,1
V1,,volume top,R2 input,wire,-3 dB,,1
V2,,wiper,VR1 volume,control,-6 dB,,1
B1,,behind C3,C3 coupling,other,0 dB,,1
C1,,TR1 collector,TR1 first,amplifier,30 dB,+6 V,1
C2,,TR2 collector,TR2 driver,amplifier,26 dB,+6 V,1
E3,,midpoint,TR3 TR4 output,amplifier,0 dB,+6 V,1
LS,,loudspeaker,C8 output,other,0 dB,,1

rail,value,tol,feed
+6 V,6 V,10 %,battery

danger,where
battery,compartment
`,
		links: []link{
			{"R2 input", "PU", "V1", -3, ""},
			{"VR1 volume", "V1", "V2", -6, ""},
			{"C3 coupling", "V2", "B1", 0, ""},
			{"TR1 first", "B1", "C1", 30, ""},
			{"TR2 driver", "C1", "C2", 26, ""},
			{"TR3 TR4 output", "C2", "E3", 0, ""},
			{"C8 output", "E3", "LS", 0, ""},
		},
		source: map[string]float64{"PU": 0.1},
		shows:  map[string]string{"+6 V dc": "6.1 V"},
		faults: []fault{{loses: map[string]float64{"C3 coupling": nothing}, repair: replaced("C3 coupling", bad("C3", "4.7 µF"))}},
	}
}

// A kitchen radio that fell: the crack goes through two tracks, and what is bridged first is
// half of it.
func cracked() *patient {
	return &patient{name: "a cracked board", complaint: "Fell off the shelf, silent since.", route: "|AE|SP", instrument: "scope10",
		sheet: `maker,Varnholt
model,RC-3
kind,radio

point,drawing,note,stage,kind,ac,frequency,dc,gain,needs,minutes
AE,,aerial coil,,,300 µV,1 MHz,,,,1
MX,,mixer out,Q1 mixer,mixer,,,,30 dB,+9 V,2
IF,,IF out,Q2 IF,amplifier,,,,34 dB,+9 V,2
DT,,detector out,D1 detector,detector,,,,-14 dB,,2
VT,,volume top,W1 track,wire,,,,0 dB,,1
VW,,wiper,VR1 volume,control,,,,-10 dB,,1
AW,,amplifier in,W2 track,wire,,,,0 dB,,1
SP,,speaker,IC2 amplifier,amplifier,,,4.4 V,30 dB,+9 V,1

rail,value,tol
+9 V,9 V,8 %
`,
		links: []link{
			{"Q1 mixer", "AE", "MX", 29, ""},
			{"Q2 IF", "MX", "IF", 35, ""},
			{"D1 detector", "IF", "DT", -14.5, ""},
			{"W1 track", "DT", "VT", 0, ""},
			{"VR1 volume", "VT", "VW", -10, ""},
			{"W2 track", "VW", "AW", 0, ""},
			{"IC2 amplifier", "AW", "SP", 30.4, ""},
		},
		source: map[string]float64{"AE": 300e-6}, shows: map[string]string{"+9 V dc": "9.2 V", "SP dc": "4.5 V"},
		faults: []fault{
			{
				loses:  map[string]float64{"W1 track": nothing},
				repair: repair.Repair{Did: repair.Mended, Stage: "W1 track", Where: "beside the volume tags"},
			},
			{
				loses:  map[string]float64{"W2 track": nothing},
				repair: repair.Repair{Did: repair.Mended, Stage: "W2 track", Where: "at the screw hole"},
			}}}
}

// A bodypack: the carrier is there and so is speech, the pilot that opens the receiver is not,
// since its crystal has stopped.
func noPilot() *patient {
	return &patient{
		name:       "no pilot tone",
		complaint:  "Receiver stays muted; its field meter shows full strength.",
		route:      "|Q7 pilot, by itself|RF",
		instrument: "scope10",
		sheet: `maker,Ellsby
model,WB-2
kind,transmitter

point,drawing,note,stage,kind,ac,frequency,hztol,gain,needs,also,from,minutes
MIC,,microphone,,,8 mV,1 kHz,,,,,,1
AF,,behind the compressor,IC2 compressor,amplifier,,,,26 dB,+3 V,,MIC,2
MOD,,to the modulator,R18 mixing,wire,,,,-6 dB,,,AF,2
X2,,pilot,Q7 pilot,oscillator,,,,,+3 V,,,2
PL,,behind the divider,R31 divider,wire,,,,-20 dB,,,X2,2
RF,,aerial lead,Q9 transmitter,amplifier,,,,,+3 V;+5 V,,MOD,2

stage,kind,from,to,gain
R32 mixing,wire,PL,MOD,-6 dB

at,quantity,value,tol
X2,ac,420 mV,20 %
X2,frequency,19.2 kHz,crystal
RF,deviation,2.4 kHz,15 %
RF,frequency,41.3 MHz,crystal

rail,value,tol
+3 V,3 V,5 %
+5 V,5 V,5 %
`,
		links: []link{
			{"Q7 pilot", "Q7 pilot, by itself", "X2", 0, ""},
			{"R31 divider", "X2", "PL", -20.2, ""},
			{"R32 mixing", "PL", "MOD", -6, ""},
			{"IC2 compressor", "MIC", "AF", 26, ""},
			{"R18 mixing", "AF", "MOD", -6, ""},
		},
		source: map[string]float64{
			"MIC":                 8e-3,
			"Q7 pilot, by itself": 0.41,
		},
		shows: map[string]string{
			"+3 V dc":      "3.02 V",
			"+5 V dc":      "5.01 V",
			"X2 frequency": "19.2003 kHz",
			"RF deviation": "2.35 kHz",
			"RF frequency": "41.3004 MHz",
		},
		faults: []fault{
			{
				shows:  map[string]string{"X2 frequency": "none", "RF deviation": "60 Hz"},
				loses:  map[string]float64{"Q7 pilot": nothing},
				repair: replaced("Q7 pilot", bad("Y2", "19.2 kHz")),
			},
		},
	}
}

// A hearing-loop amplifier with tubes; its tone network is potted, and has drifted.
func sealed() *patient {
	return &patient{
		name:       "tubes and a sealed network",
		complaint:  "Much too soft, hum is normal.",
		route:      "|IN|LOOP",
		instrument: "scope10",
		sheet: `maker,Karsund
model,HV-8
kind,tube amplifier

point,drawing,note,stage,kind,ac,frequency,dc,gain,needs,minutes,peak
IN,,microphone socket,,,5 mV,1 kHz,0 V,,,1,
A1,,V1 plate,V1 first,amplifier,,,112 V,34 dB,+190 V,2,
N1,,network out,Z1 network,equaliser,,,0 V,-12 dB,,2,
A2,,V2 plate,V2 second,amplifier,,,128 V,31 dB,+190 V,2,
G3,,V3 grid,C9 coupling,other,,,0 V,-0.5 dB,,1,
A3,,V3 plate,V3 output,amplifier,,,228 V,22 dB,+240 V,3,600 V
LOOP,,loop terminals,T2 output,transformer,,,0 V,-30 dB,,1,

rail,value,tol,ripple,feed,order
+240 V,240 V,8 %,6 Vpp,T1,1
+190 V,190 V,8 %,1 Vpp,+240 V,2

reservoir,farads,onrail,volts,bleeder
C20,47 µF,+240 V,240 V,220k
C21,22 µF,+190 V,190 V,

danger,where
mains,switch and fuse
reservoir,C20 and C21
hot parts,V3 and its cathode resistor
`,
		links: []link{
			{"V1 first", "IN", "A1", 33.4, ""},
			{"Z1 network", "A1", "N1", -12.4, ""},
			{"V2 second", "N1", "A2", 31.3, ""},
			{"C9 coupling", "A2", "G3", -0.5, ""},
			{"V3 output", "G3", "A3", 21.6, ""},
			{"T2 output", "A3", "LOOP", -30.2, ""},
		},
		source: map[string]float64{
			"IN": 5e-3,
		},
		shows: map[string]string{
			"+240 V dc": "246 V",
			"+190 V dc": "187 V",
			"+240 V ac": "5.2 Vpp",
			"+190 V ac": "0.7 Vpp",
			"IN dc":     "0 V",
			"A1 dc":     "109 V",
			"N1 dc":     "0 V",
			"A2 dc":     "131 V",
			"G3 dc":     "30 mV",
			"A3 dc":     "231 V",
			"LOOP dc":   "0 V",
		},
		faults: []fault{
			{loses: map[string]float64{"Z1 network": 19}, repair: replaced("Z1 network", bad("Z1", "built up from parts, 3 R and 4 C"))},
		},
	}
}
