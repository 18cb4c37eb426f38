package circuit

import (
	"cmp"
	"math"
	"slices"
)

// number is what equations are made of.
type number interface{ float64 | complex128 }

// factors are the triangular factors of a circuit's equations, with partial pivoting (Golub and Van Loan). A node
// meets few others, so that most of what a dense method works on is nothing: rows that a pivot does not reach are
// left alone, and of a pivot's row only what lies before its last number counts. LAPACK, which knows of no such,
// takes three to ten times as long for a stage of forty parts and more.
type factors[T number] struct {
	n     int
	a     []T // row by row
	pivot []int
	order []int // of the unknowns: the one that comes first is done first; nil: as they are numbered
	ok    bool  // they are not singular
	room  []T   // for an answer
}

// keptShare is the share of the largest number of its column from which on a pivot stays where it is, so that what is
// nothing stays so.
const keptShare = 1e-3

func factorize(st *stamps, order []int) *factors[float64] {
	f := &factors[float64]{order: order}
	f.take(st.n, st.g)
	f.factorize(math.Abs)
	return f
}

// take takes equations in, in the order in which they are to be done.
func (f *factors[T]) take(n int, g []T) {
	if f.n != n {
		f.n, f.a, f.pivot, f.room = n, make([]T, n*n), make([]int, n), make([]T, n)
	}
	if f.order == nil {
		copy(f.a, g)
		return
	}
	for i, from := range f.order {
		row, of := f.a[i*n:(i+1)*n], g[from*n:(from+1)*n]
		for k, at := range f.order {
			row[k] = of[at]
		}
	}
}

// ordered puts a right side into the order of the equations, and back puts an answer where it belongs.
func (f *factors[T]) ordered(b []T) []T {
	if f.order == nil {
		return b
	}
	for i, from := range f.order {
		f.room[i] = b[from]
	}
	return f.room
}

func (f *factors[T]) back(x, b []T) []T {
	if f.order != nil {
		for i, to := range f.order {
			b[to] = x[i]
		}
	}
	return b
}

// unknowns are in the order in which they are done so that little of what is nothing becomes something: always the one that
// meets the fewest others (Tinney and Walker 1967), by the circuit as it is drawn; what faults added comes first.
func (n *Net) unknowns() []int {
	out := make([]int, 0, n.size)
	for i := len(n.done); i < n.size; i++ {
		out = append(out, i)
	}
	return append(out, n.done...)
}

func (n *Net) inOrder() []int {
	meets := n.meeting()
	left := make([]int, n.size)
	for i := range left {
		left[i] = i
	}
	degree := func(i int) int {
		count := 0
		for _, k := range left {
			if meets[i][k] {
				count++
			}
		}
		return count
	}
	var out []int
	for len(left) > 0 {
		next := slices.MinFunc(left, func(a, b int) int { return cmp.Compare(degree(a), degree(b)) })
		out = append(out, next)
		left = slices.DeleteFunc(left, func(i int) bool { return i == next })
		for _, a := range left { // those that it met meet now
			for _, b := range left {
				meets[a][b] = meets[a][b] || a != b && meets[next][a] && meets[next][b]
			}
		}
	}
	return out
}

// meeting tells which unknowns stand in one equation.
func (n *Net) meeting() [][]bool {
	out := make([][]bool, n.size)
	for i := range out {
		out[i] = make([]bool, n.size)
	}
	for i := range n.elements {
		e := &n.elements[i]
		at := slices.DeleteFunc(slices.Clone(e.nodes), func(node int) bool { return node < 0 })
		for k := range e.is.branches {
			at = append(at, e.branch+k)
		}
		for _, a := range at {
			for _, b := range at {
				out[a][b] = out[a][b] || a != b
			}
		}
	}
	return out
}

// factorize works in place, by the size that a number has.
func (f *factors[T]) factorize(size func(T) float64) {
	n, a := f.n, f.a
	f.ok = false
	for k := range n {
		best, most := k, size(a[k*n+k])
		for i := k + 1; i < n; i++ {
			if x := a[i*n+k]; x != 0 && size(x) > most {
				best, most = i, size(x)
			}
		}
		if best != k && size(a[k*n+k]) > keptShare*most {
			best = k
		}
		f.pivot[k] = best
		if !(most > 0) {
			return
		}
		if best != k {
			one, other := a[k*n:(k+1)*n], a[best*n:(best+1)*n]
			for j := range one {
				one[j], other[j] = other[j], one[j]
			}
		}
		inverse := 1 / a[k*n+k]
		end := n
		for end > k+1 && a[k*n+end-1] == 0 {
			end--
		}
		above := a[k*n+k+1 : k*n+end]
		for i := k + 1; i < n; i++ {
			if a[i*n+k] == 0 {
				continue
			}
			m := a[i*n+k] * inverse
			a[i*n+k] = m
			row := a[i*n+k+1 : i*n+end]
			for j, v := range above {
				row[j] -= m * v
			}
		}
	}
	f.ok = true
}

// solve answers for a right side, which becomes the answer.
func (f *factors[T]) solve(right []T) []T {
	n, a, b := f.n, f.a, f.ordered(right)
	for k, p := range f.pivot {
		b[k], b[p] = b[p], b[k]
	}
	for i := range n {
		sum := b[i]
		for j, v := range a[i*n : i*n+i] {
			sum -= v * b[j]
		}
		b[i] = sum
	}
	for i := n - 1; i >= 0; i-- {
		sum := b[i]
		for j, v := range a[i*n+i+1 : (i+1)*n] {
			sum -= v * b[i+1+j]
		}
		b[i] = sum / a[i*n+i]
	}
	return f.back(b, right)
}

// solveTransposed answers for the adjoint equations. Rows are taken one after the other, as they lie.
func (f *factors[T]) solveTransposed(right []T) []T {
	n, a, b := f.n, f.a, f.ordered(right)
	for i := range n {
		if b[i] == 0 {
			continue
		}
		b[i] /= a[i*n+i]
		x := b[i]
		for j, v := range a[i*n+i+1 : (i+1)*n] {
			b[i+1+j] -= v * x
		}
	}
	for i := n - 1; i > 0; i-- {
		if x := b[i]; x != 0 {
			for j, v := range a[i*n : i*n+i] {
				b[j] -= v * x
			}
		}
	}
	for k := n - 1; k >= 0; k-- {
		p := f.pivot[k]
		b[k], b[p] = b[p], b[k]
	}
	return f.back(b, right)
}
