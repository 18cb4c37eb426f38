// Package closing knows what is measured and tried before a set goes back: the list of its model or of its kind, what is
// read and judged of it before the repair and after, and what is still open.
//
//	stands := closing.Look(plan, entries, closing.Now{Repaired: at, Tried: cells})
//
// Each item is a sheet.Closing, the sheet's own or one that Offer makes of what else the sheet has. What was typed is kept
// as it was typed, and read anew whenever it is looked at.
package closing
