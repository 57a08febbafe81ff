#include "core/plate/factor.h"

#include <cholmod.h>
#include <tbb/enumerable_thread_specific.h>

#include <algorithm>
#include <functional>
#include <limits>
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
        if (in_node == 0 || in_node == Unknowns::bending || i >= m.size() - m.forces) g.first.push_back(i);
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

// The supernodes of groups as supernodes of unknowns. A group's equations have one pattern, so that the analysis of the
// groups is that of the unknowns with a ninth of the entries.
struct Layout {
    std::vector<int> order, first, rows, values, row;  // order: which unknown stands i-th; the others as Supernodes has
    int most_rows = 0;
    std::vector<int> negative;  // places in the order where S is −1

    // `first_of`: the unknown each group begins with, and one past the last.
    Layout(const cholmod_factor& of_groups, const std::vector<int>& first_of, int forces) {
        const auto* groups = static_cast<const int*>(of_groups.Perm);
        const auto* super = static_cast<const int*>(of_groups.super);
        const auto* group_rows = static_cast<const int*>(of_groups.pi);
        const auto* group_row = static_cast<const int*>(of_groups.s);
        order.reserve(size_t(first_of.back()));
        std::vector<int> at;  // where each group stands in the order
        for (size_t k = 0; k < of_groups.n; ++k) {
            at.push_back(int(order.size()));
            for (int i = first_of[size_t(groups[k])]; i < first_of[size_t(groups[k]) + 1]; ++i) order.push_back(i);
        }
        at.push_back(int(order.size()));
        long most = 0, entries = 0;
        for (size_t s = 0; s < of_groups.nsuper; ++s) {
            first.push_back(at[size_t(super[s])]), rows.push_back(int(row.size())), values.push_back(int(entries));
            for (int k = group_rows[s]; k < group_rows[s + 1]; ++k)
                for (int i = at[size_t(group_row[k])]; i < at[size_t(group_row[k]) + 1]; ++i) row.push_back(i);
            const long n = long(row.size()) - rows.back(), columns = at[size_t(super[s + 1])] - first.back();
            most = std::max(most, n - columns), entries += n * columns;
            if (entries > std::numeric_limits<int>::max()) throw std::runtime_error(too_many);
        }
        first.push_back(at.back()), rows.push_back(int(row.size())), values.push_back(int(entries));
        most_rows = int(most) + 1;
        for (int i = 0; forces > 0 && i < int(order.size()); ++i)
            if (order[size_t(i)] >= int(order.size()) - forces) negative.push_back(i);
    }
    size_t size() const { return size_t(values.back()); }
    template <class Real>
    Supernodes<Real> supernodes(const Real* value) const {
        return {int(first.size()) - 1, most_rows, first.data(), rows.data(), values.data(), row.data(), value};
    }
    // As the library has a factor, with numbers or without; a view.
    cholmod_factor view(double* value) const {
        cholmod_factor f{};
        f.n = f.minor = order.size();
        f.Perm = const_cast<int*>(order.data());
        f.nsuper = first.size() - 1, f.ssize = row.size(), f.xsize = size();
        f.maxesize = size_t(most_rows) - 1;
        f.super = const_cast<int*>(first.data()), f.pi = const_cast<int*>(rows.data());
        f.px = const_cast<int*>(values.data()), f.s = const_cast<int*>(row.data());
        f.x = value;
        f.ordering = CHOLMOD_GIVEN;
        f.is_ll = f.is_super = f.is_monotonic = 1;
        f.itype = CHOLMOD_INT, f.xtype = CHOLMOD_REAL, f.dtype = CHOLMOD_DOUBLE;
        return f;
    }
};

void order_as_given(cholmod_common& c) {
    c.nmethods = 1;
    c.method[0].ordering = CHOLMOD_GIVEN;
    c.postorder = 1;
    c.supernodal = CHOLMOD_SUPERNODAL;
}

Layout analysed(const SparseLower& m, const std::vector<Point>& nodes, const Progress& progress) {
    const auto [graph, first] = graph_of_groups(m);
    progress.end_if_stopped();
    std::vector<Point> at;
    const int of_nodes = graph.size() - m.forces;
    for (int i = 0; i < of_nodes; ++i) at.push_back(nodes[size_t(first[size_t(i)] / m.block)]);
    std::vector<int> order = dissected_order(graph, at);
    progress.end_if_stopped();
    Workspace w;
    order_as_given(w.common);
    // The library joins supernodes that are narrow together; it counts columns, here some three unknowns each.
    for (size_t& columns : w.common.nrelax) columns = (columns + 1) / 3;
    cholmod_sparse a = view(graph);
    a.xtype = CHOLMOD_PATTERN, a.x = nullptr;
    cholmod_factor* of_groups = cholmod_analyze_p(&a, order.data(), nullptr, 0, &w.common);
    if (!of_groups) throw std::runtime_error(too_many);
    const std::unique_ptr<cholmod_factor, std::function<void(cholmod_factor*)>> keep(
        of_groups, [&](cholmod_factor* f) { cholmod_free_factor(&f, &w.common); });
    progress.end_if_stopped();
    return {*of_groups, first, m.forces};
}

}  // namespace

struct Factor::Analysis {
    std::vector<int> start, row;  // the pattern that was analysed
    Layout layout;
    Branches branches;
    std::optional<Fronts> fronts;

    Analysis(const SparseLower& m, const std::vector<Point>& nodes, const Progress& progress)
        : start(m.start), row(m.row), layout(analysed(m, nodes, progress)) {
        const Supernodes<double> l = layout.supernodes<double>(nullptr);
        EliminationTree tree = tree_of(l);
        branches = branches_of(l, tree);
        progress.end_if_stopped();
        fronts.emplace(l, std::move(tree), m, layout.order.data(), layout.negative);
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

    void solve_by_library(Eigen::Ref<Eigen::MatrixXd> b) {
        cholmod_factor numeric = analysis->layout.view(value.get());
        const long rows = b.rows(), columns = b.cols();
        for_each_whole(0, (columns + block_width - 1) / block_width, [&](long k) {
            hold_algebra_to_one_thread();
            const long from = k * block_width, n = std::min(block_width, columns - from);
            Workspace& w = work.local();
            cholmod_dense in{};
            in.nrow = size_t(rows), in.ncol = size_t(n), in.nzmax = size_t(rows * n), in.d = size_t(rows);
            in.x = b.data() + from * rows;
            in.xtype = CHOLMOD_REAL, in.dtype = CHOLMOD_DOUBLE;
            auto solve = [&](int system, cholmod_dense& side) {
                if (!cholmod_solve2(system, &numeric, &side, nullptr, &w.x, nullptr, &w.y, &w.e, &w.common))
                    throw std::runtime_error(too_many);
                return static_cast<double*>(w.x->x);
            };
            const std::vector<int>& negative = analysis->layout.negative;
            if (negative.empty()) {
                std::copy_n(solve(CHOLMOD_A, in), rows * n, b.data() + from * rows);
                return;
            }
            const std::vector<int>& order = analysis->layout.order;
            Eigen::MatrixXd whole = Eigen::MatrixXd::Zero(long(order.size()), n);
            for (long i = 0; i < long(order.size()); ++i)
                if (order[size_t(i)] < rows) whole.row(i) = b.block(order[size_t(i)], from, 1, n);
            in.nrow = in.d = order.size(), in.nzmax = order.size() * size_t(n), in.x = whole.data();
            auto keep = [&](const double* x) { whole = Eigen::Map<const Eigen::MatrixXd>(x, whole.rows(), n); };
            keep(solve(CHOLMOD_L, in));
            for (int i : negative) whole.row(i) *= -1;
            keep(solve(CHOLMOD_Lt, in));
            for (long i = 0; i < long(order.size()); ++i)
                if (order[size_t(i)] < rows) b.block(order[size_t(i)], from, 1, n) = whole.row(i);
        });
    }
    template <class Real>
    void solve_wide(const Real* values, Eigen::Ref<Eigen::MatrixXd> b) const {
        const Supernodes<Real> l = analysis->layout.supernodes(values);
        const std::vector<int>& order = analysis->layout.order;
        const long rows = long(order.size()), columns = b.cols(), width = width_for<Real>(columns);
        for_each_whole(0, (columns + width - 1) / width, [&](long k) {
            const long from = k * width, n = std::min(width, columns - from);
            CacheLines<Real> memory(rows * width);
            Real* const x = memory.data();
            double* const side = &b(0, from);
            const long apart = b.outerStride();
            for (long i = 0; i < rows; ++i) {
                Real* const to = x + i * width;
                const int unknown = order[size_t(i)];
                const long some = unknown < b.rows() ? n : 0;
                for (long c = 0; c < some; ++c) to[c] = Real(side[c * apart + unknown]);
                for (long c = some; c < width; ++c) to[c] = 0;
            }
            solve_side_by_side(l, analysis->branches, analysis->layout.negative, width, x);
            for (long i = 0; i < rows; ++i)
                if (const int unknown = order[size_t(i)]; unknown < b.rows())
                    for (long c = 0; c < n; ++c) side[c * apart + unknown] = double(x[i * width + c]);
        });
    }
};

Factor::Factor(const SparseLower& m, const std::vector<Point>& nodes, const Progress& progress)
    : parts_(std::make_unique<Parts>()) {
    hold_algebra_to_one_thread();
    parts_->analysis = std::make_shared<Analysis>(m, nodes, progress);
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

int Factor::size() const { return int(parts_->analysis->layout.order.size()); }

size_t Factor::bytes() const { return parts_->analysis->layout.size() * sizeof(double); }

bool Factor::factorize(const SparseLower& m, const Progress& progress) {
    hold_algebra_to_one_thread();
    parts_->single.reset();
    const Analysis& of = *parts_->analysis;
    try {
        if (!parts_->value) parts_->value = std::make_unique_for_overwrite<double[]>(of.layout.size());
        return of.fronts->factorize(of.layout.supernodes<double>(nullptr), m, parts_->value.get(), progress);
    } catch (const std::bad_alloc&) {
        throw std::runtime_error(too_many);
    }
}

bool Factor::factorize_by_library(const SparseLower& m) {
    hold_algebra_to_one_thread();
    cholmod_common& c = parts_->work.local().common;
    cholmod_sparse a = view(m);
    order_as_given(c);
    if (!parts_->by_library) {
        std::vector<int> order = parts_->analysis->layout.order;
        parts_->by_library = cholmod_analyze_p(&a, order.data(), nullptr, 0, &c);
    }
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
    const size_t n = parts_->analysis->layout.size();
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

const int* Factor::order() const { return parts_->analysis->layout.order.data(); }

void Factor::solve_in_single(float* x, long width) const {
    const Analysis& of = *parts_->analysis;
    solve_side_by_side(of.layout.supernodes<float>(parts_->single.get()), of.branches, of.layout.negative, width, x);
}

}  // namespace mossbed
