#include "core/plate/factor.h"

#include <cholmod.h>
#include <tbb/enumerable_thread_specific.h>

#include <algorithm>
#include <optional>
#include <stdexcept>
#include <utility>

#include "core/base/cache_lines.h"
#include "core/base/one_thread.h"
#include "core/base/whole_loop.h"
#include "core/mesh/unknowns.h"
#include "core/plate/dissection.h"
#include "core/plate/fronts.h"

namespace mossbed {

namespace {

constexpr long block_width = 8;  // right-hand sides solved together by the library
constexpr const char* too_many = "the equations are too many for the memory";

struct Workspace {
    cholmod_common common{};
    cholmod_dense *x = nullptr, *y = nullptr, *e = nullptr;
    Workspace() {
        cholmod_start(&common);
        common.print = 0;
        common.try_catch = 1;
    }
    ~Workspace() {
        cholmod_free_dense(&x, &common);
        cholmod_free_dense(&y, &common);
        cholmod_free_dense(&e, &common);
        cholmod_finish(&common);
    }
    Workspace(const Workspace&) = delete;
    Workspace& operator=(const Workspace&) = delete;
};

// A view of our arrays as CHOLMOD sees a sparse symmetric matrix.
cholmod_sparse view(const SparseLower& m) {
    cholmod_sparse s{};
    s.nrow = s.ncol = size_t(m.size());
    s.nzmax = m.row.size();
    s.p = const_cast<int*>(m.start.data());
    s.i = const_cast<int*>(m.row.data());
    s.x = const_cast<double*>(m.value.data());
    s.stype = -1;
    s.itype = CHOLMOD_INT;
    s.xtype = CHOLMOD_REAL;
    s.dtype = CHOLMOD_DOUBLE;
    s.sorted = 1;
    s.packed = 1;
    return s;
}

// The unknowns in groups that the same equations couple, and which groups meet, lower triangle. A node with three is a
// group; one with five is two, bending and plane, which meet only where something eccentric joins them.
struct Groups {
    SparseLower graph;
    std::vector<int> first;  // unknown of each, and one past the last
};
Groups graph_of_groups(const SparseLower& m) {
    Groups g;
    std::vector<int> of(size_t(m.size()), 0);
    for (int i = 0; i < m.size(); ++i) {
        const int in_node = i % m.block;
        if (in_node == 0 || in_node == Unknowns::bending) g.first.push_back(i);
        of[size_t(i)] = int(g.first.size()) - 1;
    }
    g.first.push_back(m.size());
    g.graph.start.push_back(0);
    std::vector<int> seen_by(g.first.size(), -1);
    for (int j = 0; j + 1 < int(g.first.size()); ++j) {
        const size_t from = g.graph.row.size();
        for (int k = m.start[size_t(g.first[size_t(j)])]; k < m.start[size_t(g.first[size_t(j) + 1])]; ++k)
            if (const int i = of[size_t(m.row[size_t(k)])]; std::exchange(seen_by[size_t(i)], j) != j)
                g.graph.row.push_back(i);
        std::sort(g.graph.row.begin() + long(from), g.graph.row.end());
        g.graph.start.push_back(int(g.graph.row.size()));
    }
    return g;
}

}  // namespace

struct Factor::Analysis {
    std::vector<int> start, row;         // the pattern that was analysed
    Workspace own;                       // of the library's factor
    cholmod_factor* symbolic = nullptr;  // supernodes, and the order of the unknowns
    Branches branches;
    std::optional<Fronts> fronts;

    Analysis(const SparseLower& m, const std::vector<Point>& nodes) : start(m.start), row(m.row) {
        cholmod_common& c = own.common;
        const auto [graph, first] = graph_of_groups(m);
        std::vector<Point> at;
        for (int i = 0; i < graph.size(); ++i) at.push_back(nodes[size_t(first[size_t(i)] / m.block)]);
        std::vector<int> of_unknowns;
        of_unknowns.reserve(size_t(m.size()));
        for (int group : dissected_order(graph, at))
            for (int i = first[size_t(group)]; i < first[size_t(group) + 1]; ++i) of_unknowns.push_back(i);
        c.nmethods = 1;
        c.method[0].ordering = CHOLMOD_GIVEN;
        c.postorder = 1;
        c.supernodal = CHOLMOD_SUPERNODAL;
        cholmod_sparse a = view(m);
        symbolic = cholmod_analyze_p(&a, of_unknowns.data(), nullptr, 0, &c);
        if (!symbolic) throw std::runtime_error(too_many);
        const Supernodes<double> l = supernodes<double>(nullptr);
        EliminationTree tree = tree_of(l);
        branches = branches_of(l, tree);
        fronts.emplace(l, std::move(tree), m, order());
    }
    ~Analysis() { cholmod_free_factor(&symbolic, &own.common); }
    Analysis(const Analysis&) = delete;
    Analysis& operator=(const Analysis&) = delete;

    const int* order() const { return static_cast<const int*>(symbolic->Perm); }
    template <class Real>
    Supernodes<Real> supernodes(const Real* value) const {
        const cholmod_factor& f = *symbolic;
        return {int(f.nsuper),
                int(f.maxesize) + 1,
                static_cast<const int*>(f.super),
                static_cast<const int*>(f.pi),
                static_cast<const int*>(f.px),
                static_cast<const int*>(f.s),
                value};
    }
};

struct Factor::Parts {
    std::shared_ptr<const Analysis> analysis;
    std::unique_ptr<double[]> value;                  // as the supernodes have it; none before the first factorisation
    std::unique_ptr<float[]> single;                  // once more
    tbb::enumerable_thread_specific<Workspace> work;  // for what the library does, one a thread
    cholmod_factor* by_library = nullptr;

    ~Parts() {
        if (by_library) cholmod_free_factor(&by_library, &work.local().common);
    }

    size_t size() const { return analysis->symbolic->xsize; }
    void solve_by_library(Eigen::Ref<Eigen::MatrixXd> b) {
        cholmod_factor numeric = *analysis->symbolic;  // a view of our numbers
        numeric.x = value.get(), numeric.xtype = CHOLMOD_REAL;
        const long rows = b.rows(), columns = b.cols();
        for_each_whole(0, (columns + block_width - 1) / block_width, [&](long k) {
            hold_algebra_to_one_thread();
            const long from = k * block_width, n = std::min(block_width, columns - from);
            Workspace& w = work.local();
            cholmod_dense in{};
            in.nrow = size_t(rows), in.ncol = size_t(n), in.nzmax = size_t(rows * n), in.d = size_t(rows);
            in.x = b.data() + from * rows;
            in.xtype = CHOLMOD_REAL, in.dtype = CHOLMOD_DOUBLE;
            if (!cholmod_solve2(CHOLMOD_A, &numeric, &in, nullptr, &w.x, nullptr, &w.y, &w.e, &w.common))
                throw std::runtime_error(too_many);
            std::copy_n(static_cast<const double*>(w.x->x), rows * n, b.data() + from * rows);
        });
    }
    template <class Real>
    void solve_wide(const Real* values, Eigen::Ref<Eigen::MatrixXd> b) const {
        const Supernodes<Real> l = analysis->supernodes(values);
        const int* order = analysis->order();
        const long rows = b.rows(), columns = b.cols(), width = width_for<Real>(columns);
        for_each_whole(0, (columns + width - 1) / width, [&](long k) {
            const long from = k * width, n = std::min(width, columns - from);
            CacheLines<Real> memory(rows * width);
            Real* const x = memory.data();
            double* const side = &b(0, from);
            const long apart = b.outerStride();
            for (long i = 0; i < rows; ++i) {
                Real* const to = x + i * width;
                for (long c = 0; c < n; ++c) to[c] = Real(side[c * apart + order[i]]);
                for (long c = n; c < width; ++c) to[c] = 0;
            }
            solve_side_by_side(l, analysis->branches, width, x);
            for (long i = 0; i < rows; ++i)
                for (long c = 0; c < n; ++c) side[c * apart + order[i]] = double(x[i * width + c]);
        });
    }
};

Factor::Factor(const SparseLower& m, const std::vector<Point>& nodes) : parts_(std::make_unique<Parts>()) {
    hold_algebra_to_one_thread();
    parts_->analysis = std::make_shared<Analysis>(m, nodes);
}
Factor::~Factor() = default;
Factor::Factor(Factor&&) noexcept = default;
Factor& Factor::operator=(Factor&&) noexcept = default;

Factor::Factor(std::unique_ptr<Parts> parts) : parts_(std::move(parts)) {}

Factor Factor::of_same_pattern() const {
    auto parts = std::make_unique<Parts>();
    parts->analysis = parts_->analysis;
    return Factor(std::move(parts));
}

bool Factor::has_pattern_of(const SparseLower& m) const {
    return m.start == parts_->analysis->start && m.row == parts_->analysis->row;
}

size_t Factor::bytes() const { return parts_->size() * sizeof(double); }

bool Factor::factorize(const SparseLower& m, const Progress& progress) {
    hold_algebra_to_one_thread();
    parts_->single.reset();
    const Analysis& of = *parts_->analysis;
    try {
        if (!parts_->value) parts_->value = std::make_unique_for_overwrite<double[]>(parts_->size());
        return of.fronts->factorize(of.supernodes<double>(nullptr), m, parts_->value.get(), progress);
    } catch (const std::bad_alloc&) {
        throw std::runtime_error(too_many);
    }
}

bool Factor::factorize_by_library(const SparseLower& m) {
    hold_algebra_to_one_thread();
    cholmod_common& c = parts_->work.local().common;
    if (!parts_->by_library) parts_->by_library = cholmod_copy_factor(parts_->analysis->symbolic, &c);
    cholmod_sparse a = view(m);
    c.supernodal = CHOLMOD_SUPERNODAL;
    if (!parts_->by_library || !cholmod_factorize(&a, parts_->by_library, &c)) throw std::runtime_error(too_many);
    return c.status == CHOLMOD_OK;
}

void Factor::solve_in_place(Eigen::Ref<Eigen::MatrixXd> b) const {
    if (has_wide_solution())
        parts_->solve_wide(parts_->value.get(), b);
    else
        parts_->solve_by_library(b);
}

void Factor::keep_single() {
    if (!has_wide_solution()) return;
    constexpr size_t piece = 1 << 16;
    const size_t n = parts_->size();
    parts_->single = std::make_unique_for_overwrite<float[]>(n);
    for_each_whole(0, long((n + piece - 1) / piece), [&](long k) {
        const size_t from = size_t(k) * piece;
        std::copy_n(parts_->value.get() + from, std::min(piece, n - from), parts_->single.get() + from);
    });
}

void Factor::solve_in_single(Eigen::Ref<Eigen::MatrixXd> b) const {
    if (!has_single()) return solve_in_place(b);
    parts_->solve_wide(parts_->single.get(), b);
}

bool Factor::has_single() const { return parts_->single != nullptr; }

const int* Factor::order() const { return parts_->analysis->order(); }

void Factor::solve_in_single(float* x, long width) const {
    const Analysis& of = *parts_->analysis;
    solve_side_by_side(of.supernodes<float>(parts_->single.get()), of.branches, width, x);
}

}  // namespace mossbed
