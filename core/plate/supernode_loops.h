// The loops of supernodes.cpp, which includes this once for each kind of registers: WIDE, what they are compiled for;
// BYTES, how wide a register is.

// V registers of columns.
template <class Real, int V>
struct Columns {
    static constexpr long width = BYTES / sizeof(Real) * V;
    static constexpr int at_once = 8 / V;  // so many sums at a time hide how long one takes
    typedef Real Register __attribute__((vector_size(BYTES)));
    typedef Real Anywhere __attribute__((vector_size(BYTES), aligned(sizeof(Real)), may_alias));
    Register v[V];
    WIDE inline void load(const Real* x) {
        for (int k = 0; k < V; ++k) v[k] = reinterpret_cast<const Anywhere*>(x)[k];
    }
    WIDE inline void store(Real* x) const {
        for (int k = 0; k < V; ++k) reinterpret_cast<Anywhere*>(x)[k] = v[k];
    }
    WIDE inline void take(Real factor, const Columns& x) {  // −= factor · x
        for (int k = 0; k < V; ++k) v[k] -= factor * x.v[k];
    }
    WIDE inline void scale(Real factor) {
        for (int k = 0; k < V; ++k) v[k] *= factor;
    }
    WIDE inline void add(const Columns& more) {
        for (int k = 0; k < V; ++k) v[k] += more.v[k];
    }
};

// A sum waits for itself: each is made of so many that there are four at least.
constexpr int parts(int R) { return R < 4 ? 4 / R : 1; }

// R rows from i on, below the supernode's own: x(row) −= Σ_j L(i, j) x_j.
template <class Real, class C, int R>
WIDE inline void take_from_rows(const Block<Real>& b, long i, const Real* own, Real* x) {
    constexpr int P = parts(R);
    C sum[P][R] = {}, xj;
    for (int r = 0; r < R; ++r) sum[0][r].load(x + long(b.row[i + r]) * C::width);
    long j = 0;
    for (; j + P <= b.columns; j += P)
        for (int p = 0; p < P; ++p) {
            xj.load(own + (j + p) * C::width);
            for (int r = 0; r < R; ++r) sum[p][r].take(*b.at(i + r, j + p), xj);
        }
    for (; j < b.columns; ++j) {
        xj.load(own + j * C::width);
        for (int r = 0; r < R; ++r) sum[0][r].take(*b.at(i + r, j), xj);
    }
    for (int r = 0; r < R; ++r) {
        for (int p = 1; p < P; ++p) sum[0][r].add(sum[p][r]);
        sum[0][r].store(x + long(b.row[i + r]) * C::width);
    }
}
// R columns from j on: x_j −= Σ_i L(i, j) x(row) over the rows below, which stand gathered in `below`.
template <class Real, class C, int R>
WIDE inline void take_from_columns(const Block<Real>& b, long j, const Real* below, Real* own) {
    constexpr int P = parts(R);
    C sum[P][R] = {}, xi;
    for (int r = 0; r < R; ++r) sum[0][r].load(own + (j + r) * C::width);
    long i = b.columns;
    for (; i + P <= b.rows; i += P)
        for (int p = 0; p < P; ++p) {
            xi.load(below + (i + p - b.columns) * C::width);
            for (int r = 0; r < R; ++r) sum[p][r].take(*b.at(i + p, j + r), xi);
        }
    for (; i < b.rows; ++i) {
        xi.load(below + (i - b.columns) * C::width);
        for (int r = 0; r < R; ++r) sum[0][r].take(*b.at(i, j + r), xi);
    }
    for (int r = 0; r < R; ++r) {
        for (int p = 1; p < P; ++p) sum[0][r].add(sum[p][r]);
        sum[0][r].store(own + (j + r) * C::width);
    }
}
// All from `from` on, R at a time, what is left by halves of R: one at a time would wait for itself.
template <class Real, class C, int R>
WIDE inline void take_from_all_rows(const Block<Real>& b, long from, const Real* own, Real* x) {
    for (; from + R <= b.rows; from += R) take_from_rows<Real, C, R>(b, from, own, x);
    if constexpr (R > 1) take_from_all_rows<Real, C, R / 2>(b, from, own, x);
}
template <class Real, class C, int R>
WIDE inline void take_from_all_columns(const Block<Real>& b, long from, const Real* below, Real* own) {
    for (; from + R <= b.columns; from += R) take_from_columns<Real, C, R>(b, from, below, own);
    if constexpr (R > 1) take_from_all_columns<Real, C, R / 2>(b, from, below, own);
}

// L y = b and Lᵀ x = y over the supernodes of a range; `first`: the row that x begins with.
template <class Real, int V>
WIDE void go_up(const Supernodes<Real>& l, Branches::Range range, long first, Real* x) {
    using C = Columns<Real, V>;
    constexpr int R = C::at_once;
    C xi, xj;
    for (int s = range.from; s < range.to; ++s) {
        const Block b = block_of(l, s);
        Real* own = x + (l.first[s] - first) * C::width;
        for (long j = 0; j < b.columns; ++j) {
            xj.load(own + j * C::width);
            xj.scale(1 / *b.at(j, j));
            xj.store(own + j * C::width);
            for (long i = j + 1; i < b.columns; ++i) {
                xi.load(own + i * C::width);
                xi.take(*b.at(i, j), xj);
                xi.store(own + i * C::width);
            }
        }
        take_from_all_rows<Real, C, R>(b, b.columns, own, x);
    }
}
template <class Real, int V>
WIDE void go_down(const Supernodes<Real>& l, Branches::Range range, Real* below, Real* x) {
    using C = Columns<Real, V>;
    constexpr int R = C::at_once;
    C xi, xj;
    for (int s = range.to; s-- > range.from;) {
        const Block b = block_of(l, s);
        Real* own = x + long(l.first[s]) * C::width;
        for (long i = b.columns; i < b.rows; ++i)
            std::memcpy(below + (i - b.columns) * C::width, x + long(b.row[i]) * C::width, sizeof(C));
        take_from_all_columns<Real, C, R>(b, 0, below, own);
        for (long j = b.columns; j-- > 0;) {
            C other{};  // two sums: one would wait for itself
            xj.load(own + j * C::width);
            long i = j + 1;
            for (; i + 2 <= b.columns; i += 2) {
                xi.load(own + i * C::width);
                xj.take(*b.at(i, j), xi);
                xi.load(own + (i + 1) * C::width);
                other.take(*b.at(i + 1, j), xi);
            }
            if (i < b.columns) {
                xi.load(own + i * C::width);
                xj.take(*b.at(i, j), xi);
            }
            xj.add(other);
            xj.scale(1 / *b.at(j, j));
            xj.store(own + j * C::width);
        }
    }
}
