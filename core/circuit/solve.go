package circuit

import (
	"slices"

	"gonum.org/v1/gonum/blas"
	"gonum.org/v1/gonum/blas/blas64"
	"gonum.org/v1/gonum/lapack/lapack64"
)

// factors are the triangular factors of a circuit's real equations, by gonum's LAPACK, which
// is asked for no estimate of their condition: Newton's steps show by themselves whether an
// answer is one.
type factors struct {
	n     int
	a     []float64
	pivot []int
	ok    bool // they are not singular
}

func factorize(st *stamps) *factors {
	f := &factors{}
	f.take(st)
	return f
}

// take factorizes equations anew, in the room of those before.
func (f *factors) take(st *stamps) {
	if f.n != st.n {
		f.n, f.a, f.pivot = st.n, make([]float64, st.n*st.n), make([]int, st.n)
	}
	copy(f.a, st.g)
	f.ok = lapack64.Getrf(f.general(f.a, f.n), f.pivot)
}

func (f *factors) general(data []float64, columns int) blas64.General {
	return blas64.General{Rows: f.n, Cols: columns, Data: data, Stride: columns}
}

// The triangles are solved for one right side at a time, for which LAPACK's own way, of many at once, takes
// longer.

// solve answers for a right side, which becomes the answer.
func (f *factors) solve(b []float64) []float64 {
	for i, p := range f.pivot {
		b[i], b[p] = b[p], b[i]
	}
	x := blas64.Vector{N: f.n, Data: b, Inc: 1}
	blas64.Trsv(blas.NoTrans, f.triangle(blas.Lower, blas.Unit), x)
	blas64.Trsv(blas.NoTrans, f.triangle(blas.Upper, blas.NonUnit), x)
	return b
}

// solveTransposed answers for the adjoint equations.
func (f *factors) solveTransposed(b []float64) []float64 {
	x := blas64.Vector{N: f.n, Data: b, Inc: 1}
	blas64.Trsv(blas.Trans, f.triangle(blas.Upper, blas.NonUnit), x)
	blas64.Trsv(blas.Trans, f.triangle(blas.Lower, blas.Unit), x)
	for i, p := range slices.Backward(f.pivot) {
		b[i], b[p] = b[p], b[i]
	}
	return b
}

func (f *factors) triangle(uplo blas.Uplo, diag blas.Diag) blas64.Triangular {
	return blas64.Triangular{Uplo: uplo, Diag: diag, N: f.n, Data: f.a, Stride: f.n}
}
