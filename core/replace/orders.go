package replace

import (
	"bytes"
	"cmp"
	"encoding/csv"
	"slices"
	"strconv"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/repair"
	"steptrace/core/substitute"
)

// orders lists what has to be had, like with like.
func orders(a *About, parts []Part) []OrderLine {
	out := []OrderLine{}
	for i := range parts {
		c := parts[i].Chosen
		if c == nil || parts[i].Fitted {
			continue
		}
		for _, what := range substitute.Pieces(c.New) { // several in the place of one are had one by one
			k := slices.IndexFunc(out, func(l OrderLine) bool {
				return strings.EqualFold(l.What, what) && l.Drawer == (c.From == Drawer)
			})
			if k < 0 {
				line := OrderLine{What: what, For: []string{}, Drawer: c.From == Drawer, Price: c.Price}
				for _, d := range a.Drawer {
					if line.Drawer && strings.EqualFold(d.What, what) {
						line.Place = d.Place
					}
				}
				out = append(out, line)
				k = len(out) - 1
			}
			out[k].Count += c.Count
			if !slices.Contains(out[k].For, parts[i].Part) {
				out[k].For = append(out[k].For, parts[i].Part)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b OrderLine) int { return cmp.Compare(boolean(a.Drawer), boolean(b.Drawer)) })
	return out
}

// Chosen lists the parts that something was chosen for, and that are not in yet.
func (v *View) Chosen() []Part {
	return slices.DeleteFunc(slices.Clone(v.Parts), func(p Part) bool { return p.New == "" || p.Fitted })
}

// Repairs are what is noted once parts are in, and boards mended: one of each stage and kind, of many parts several.
func Repairs(parts []Part) []repair.Repair {
	const most = 100
	var out []repair.Repair
	for i := range parts {
		p := &parts[i]
		found := repair.Precaution
		if p.Condemned {
			found = repair.Bad
		}
		did, in := repair.Replaced, p.New
		if p.Sort == Mending {
			did, in, found = p.Did, "", repair.Bad
		}
		k := slices.IndexFunc(out, func(r repair.Repair) bool { return r.Stage == p.Stage && r.Did == did && len(r.Parts) < most })
		if k < 0 {
			out = append(out, repair.Repair{Did: did, Stage: p.Stage})
			k = len(out) - 1
		}
		out[k].Parts = append(out[k].Parts, repair.Part{Name: p.Part, Found: found, Fitted: in})
		if p.Sort == Mending {
			const longest = 200
			if where := strings.TrimPrefix(out[k].Where+"; "+p.Part+": "+p.Was, "; "); len(where) <= longest {
				out[k].Where = where
			}
		}
	}
	return out
}

// left is what the drawer has still, with what was chosen for other parts taken out.
func left(drawer []Kept, parts []Part, but int) []Kept {
	out := slices.Clone(drawer)
	for _, k := range Taken(slices.Concat(parts[:but], parts[but+1:])) {
		if i := slices.IndexFunc(out, func(x Kept) bool { return strings.EqualFold(x.What, k.What) }); i >= 0 {
			out[i].Count = max(out[i].Count-k.Count, 0)
		}
	}
	return out
}

// Taken is how many of what parts take out of the drawer that are not in yet.
func Taken(parts []Part) []Kept {
	out := []Kept{}
	for i := range parts {
		c := parts[i].Chosen
		if c == nil || parts[i].Fitted || c.From != Drawer {
			continue
		}
		k := slices.IndexFunc(out, func(x Kept) bool { return strings.EqualFold(x.What, c.New) })
		if k < 0 {
			out = append(out, Kept{What: c.New})
			k = len(out) - 1
		}
		out[k].Count += c.Count
	}
	return out
}

// OrderCSV writes what has to be ordered as a table: what, how many, for which parts, the price where it was typed.
func OrderCSV(lines []OrderLine) []byte {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	_ = w.Write([]string{"what", "count", "for", "price"}) // a Buffer takes everything
	for _, l := range lines {
		if !l.Drawer {
			_ = w.Write([]string{
				exchange.Cell(l.What), strconv.Itoa(l.Count), exchange.Cell(strings.Join(l.For, " ")), exchange.Cell(l.Price),
			})
		}
	}
	w.Flush()
	return b.Bytes()
}
