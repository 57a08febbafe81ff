#include "core/plate/factor.h"

#include <cholmod.h>
#include <tbb/enumerable_thread_specific.h>

#include <algorithm>
#include <stdexcept>
#include <utility>

#include "core/base/one_thread.h"
#include "core/base/whole_loop.h"
#include "core/mesh/unknowns.h"
#include "core/plate/supernodes.h"

namespace mossbed {

namespace {

constexpr long block_width = 8;     // right-hand sides solved together by the library
constexpr int metis_above = 15000;  // nodes

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
    g.graph.value.assign(g.graph.row.size(), 1.0);
    return g;
}

}  // namespace

struct Factor::Parts {
    Workspace own;                                    // for the factor itself
    tbb::enumerable_thread_specific<Workspace> work;  // for right-hand sides, one a thread
    cholmod_factor* factor = nullptr;
    std::vector<float> single;  // its numbers again
    Branches branches;
    ~Parts() { cholmod_free_factor(&factor, &own.common); }

    void solve(Eigen::Ref<Eigen::MatrixXd> b) {
        const long rows = b.rows(), columns = b.cols();
        for_each_whole(0, (columns + block_width - 1) / block_width, [&](long k) {
            hold_algebra_to_one_thread();
            const long from = k * block_width, n = std::min(block_width, columns - from);
            Workspace& w = work.local();
            cholmod_dense in{};
            in.nrow = size_t(rows), in.ncol = size_t(n), in.nzmax = size_t(rows * n), in.d = size_t(rows);
            in.x = b.data() + from * rows;
            in.xtype = CHOLMOD_REAL, in.dtype = CHOLMOD_DOUBLE;
            if (!cholmod_solve2(CHOLMOD_A, factor, &in, nullptr, &w.x, nullptr, &w.y, &w.e, &w.common))
                throw std::runtime_error("the equations are too many for the memory");
            std::copy_n(static_cast<const double*>(w.x->x), rows * n, b.data() + from * rows);
        });
    }
};

Factor::Factor(const SparseLower& m) : parts_(std::make_unique<Parts>()) {
    hold_algebra_to_one_thread();
    cholmod_common& c = parts_->own.common;
    const auto [graph, first] = graph_of_groups(m);
    const int n = graph.size();
    cholmod_sparse g = view(graph);
    g.xtype = CHOLMOD_PATTERN;
    std::vector<int> of_groups(size_t(n), 0), of_unknowns;
    const int done = n > metis_above ? cholmod_metis(&g, nullptr, 0, 1, of_groups.data(), &c)
                                     : cholmod_amd(&g, nullptr, 0, of_groups.data(), &c);
    if (!done) throw std::runtime_error("the ordering of the equations failed");
    of_unknowns.reserve(size_t(m.size()));
    for (int group : of_groups)
        for (int i = first[size_t(group)]; i < first[size_t(group) + 1]; ++i) of_unknowns.push_back(i);
    c.nmethods = 1;
    c.method[0].ordering = CHOLMOD_GIVEN;
    c.postorder = 1;
    c.supernodal = CHOLMOD_SUPERNODAL;
    cholmod_sparse a = view(m);
    parts_->factor = cholmod_analyze_p(&a, of_unknowns.data(), nullptr, 0, &c);
    if (!parts_->factor) throw std::runtime_error("the equations are too many for the memory");
}

namespace {

template <class Real>
Supernodes<Real> supernodes_of(const cholmod_factor& f, const Real* value) {
    return {int(f.nsuper),
            int(f.maxesize) + 1,
            static_cast<const int*>(f.super),
            static_cast<const int*>(f.pi),
            static_cast<const int*>(f.px),
            static_cast<const int*>(f.s),
            value};
}

template <class Real>
void solve_wide(const cholmod_factor& f, const Branches& branches, const Real* value, Eigen::Ref<Eigen::MatrixXd> b) {
    const Supernodes<Real> l = supernodes_of(f, value);
    const auto* order = static_cast<const int*>(f.Perm);
    const long rows = b.rows(), columns = b.cols(), width = side_by_side<Real>[columns > 2 * side_by_side<Real>[0]];
    for_each_whole(0, (columns + width - 1) / width, [&](long k) {
        const long from = k * width, n = std::min(width, columns - from);
        std::vector<Real> x(size_t(rows * width), Real(0));
        for (long c = 0; c < n; ++c)
            for (long i = 0; i < rows; ++i) x[size_t(i * width + c)] = Real(b(order[i], from + c));
        solve_side_by_side(l, branches, width, x.data());
        for (long c = 0; c < n; ++c)
            for (long i = 0; i < rows; ++i) b(order[i], from + c) = double(x[size_t(i * width + c)]);
    });
}

}  // namespace

Factor::~Factor() = default;
Factor::Factor(Factor&&) noexcept = default;
Factor& Factor::operator=(Factor&&) noexcept = default;

Factor::Factor(std::unique_ptr<Parts> parts) : parts_(std::move(parts)) {}

Factor Factor::of_same_pattern() const {
    auto parts = std::make_unique<Parts>();
    parts->own.common.supernodal = CHOLMOD_SUPERNODAL;
    parts->factor = cholmod_copy_factor(parts_->factor, &parts->own.common);
    if (!parts->factor) throw std::runtime_error("the equations are too many for the memory");
    return Factor(std::move(parts));
}

size_t Factor::bytes() const { return parts_->factor->xsize * sizeof(double); }

bool Factor::factorize(const SparseLower& m) {
    hold_algebra_to_one_thread();
    parts_->single.clear();
    cholmod_sparse a = view(m);
    cholmod_common& c = parts_->own.common;
    if (!cholmod_factorize(&a, parts_->factor, &c))
        throw std::runtime_error("the equations are too many for the memory");
    const cholmod_factor& f = *parts_->factor;
    if (f.is_super) parts_->branches = branches_of(supernodes_of(f, static_cast<const double*>(f.x)));
    return c.status == CHOLMOD_OK;
}

void Factor::solve_in_place(Eigen::Ref<Eigen::MatrixXd> b) const {
    const cholmod_factor& f = *parts_->factor;
    if (has_wide_solution() && f.is_super)
        solve_wide(f, parts_->branches, static_cast<const double*>(f.x), b);
    else
        parts_->solve(b);
}

void Factor::keep_single() {
    const cholmod_factor& f = *parts_->factor;
    if (!has_wide_solution() || !f.is_super) return;
    const auto* value = static_cast<const double*>(f.x);
    parts_->single.assign(value, value + f.xsize);
}

void Factor::solve_in_single(Eigen::Ref<Eigen::MatrixXd> b) const {
    if (parts_->single.empty()) return solve_in_place(b);
    solve_wide(*parts_->factor, parts_->branches, parts_->single.data(), b);
}

}  // namespace mossbed
