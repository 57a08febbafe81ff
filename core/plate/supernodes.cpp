#include "core/plate/supernodes.h"

#include <algorithm>
#include <cstring>
#include <optional>

#include "core/base/cache_lines.h"
#include "core/base/whole_loop.h"

#if defined(__x86_64__) && defined(__GNUC__)
#define MOSSBED_HAS_LOOPS
#endif

namespace mossbed {

#ifdef MOSSBED_HAS_LOOPS
namespace {

template <class Real>
struct Block {  // of one supernode
    long columns = 0, rows = 0;
    const Real* value = nullptr;
    const int* row = nullptr;
    const Real* at(long i, long j) const { return value + i + j * rows; }
};
template <class Real>
Block<Real> block_of(const Supernodes<Real>& l, int s) {
    return {l.first[s + 1] - l.first[s], l.rows[s + 1] - l.rows[s], l.value + l.values[s], l.row + l.rows[s]};
}

namespace eights {
#define WIDE __attribute__((target("avx2,fma")))
#define BYTES 32
#include "core/plate/supernode_loops.h"
#undef WIDE
#undef BYTES
}  // namespace eights
namespace sixteens {
#define WIDE __attribute__((target("avx512f")))
#define BYTES 64
#include "core/plate/supernode_loops.h"
#undef WIDE
#undef BYTES
}  // namespace sixteens

// The loops, for registers as wide as a machine has them.
template <class Real>
struct Loops {
    void (*up)(const Supernodes<Real>&, Branches::Range, long, Real*);
    void (*down)(const Supernodes<Real>&, Branches::Range, Real*, Real*);
};
template <class Real>
void solve_columns(const Supernodes<Real>& l, const Branches& branches, const std::vector<int>& negative, long W,
                   const Loops<Real>& loops, Real* x) {
    auto begin = [&](const Branches::Range& r) { return l.first[r.from] * W; };  // of its rows in x
    auto end = [&](const Branches::Range& r) { return l.first[r.to] * W; };
    // A branch works in a place of its own: its rows, then what it takes from those of the trunk.
    Supernodes<Real> within = l;
    within.row = branches.row.data();
    std::vector<std::optional<CacheLines<Real>>> place(branches.branch.size());
    for_each_whole(0, long(place.size()), [&](long k) {
        const Branches::Range of = branches.branch[size_t(k)];
        const long rows = end(of) - begin(of), taken = branches.trunk_rows * W;
        Real* const own = place[size_t(k)].emplace(rows + taken).data();
        std::copy_n(x + begin(of), rows, own);
        std::fill_n(own + rows, taken, Real(0));
        loops.up(within, of, l.first[of.from], own);
        std::copy_n(own, rows, x + begin(of));
    });
    for (size_t k = 0; k < place.size(); ++k) {
        const Real* taken = place[k]->data() + (end(branches.branch[k]) - begin(branches.branch[k]));
        for (const Branches::Range& t : branches.trunk)
            for (long i = begin(t); i < end(t); ++i) x[i] += *taken++;
    }
    for (const Branches::Range& t : branches.trunk) loops.up(l, t, 0, x);
    for (int i : negative)
        for (long c = 0; c < W; ++c) x[i * W + c] = -x[i * W + c];
    CacheLines<Real> below(l.most_rows * W);
    for (size_t k = branches.trunk.size(); k-- > 0;) loops.down(l, branches.trunk[k], below.data(), x);
    for_each_whole(0, long(place.size()), [&](long k) {
        CacheLines<Real> below_branch(l.most_rows * W);
        loops.down(l, branches.branch[size_t(k)], below_branch.data(), x);
    });
}

}  // namespace

template <class Real>
void solve_side_by_side(const Supernodes<Real>& l, const Branches& branches, const std::vector<int>& negative,
                        long width, Real* x, Registers registers) {
    const Loops<Real> loops =
        width == side_by_side<Real>[0]     ? Loops<Real>{eights::go_up<Real, 1>, eights::go_down<Real, 1>}
        : registers == Registers::sixteens ? Loops<Real>{sixteens::go_up<Real, 1>, sixteens::go_down<Real, 1>}
                                           : Loops<Real>{eights::go_up<Real, 2>, eights::go_down<Real, 2>};
    solve_columns(l, branches, negative, width, loops, x);
}
#else
template <class Real>
void solve_side_by_side(const Supernodes<Real>&, const Branches&, const std::vector<int>&, long, Real*, Registers) {}
#endif

template void solve_side_by_side(const Supernodes<double>&, const Branches&, const std::vector<int>&, long, double*,
                                 Registers);
template void solve_side_by_side(const Supernodes<float>&, const Branches&, const std::vector<int>&, long, float*,
                                 Registers);

template <class Real>
EliminationTree tree_of(const Supernodes<Real>& l) {
    const size_t count = size_t(l.count);
    EliminationTree tree{std::vector<int>(size_t(l.first[count])), std::vector<int>(count, l.count),
                         std::vector<int>(count), std::vector<std::vector<int>>(count + 1)};
    for (int s = 0; s < l.count; ++s)
        std::fill(&tree.of_column[size_t(l.first[s])], tree.of_column.data() + l.first[s + 1], s);
    for (int s = 0; s < l.count; ++s) {
        const int columns = l.first[s + 1] - l.first[s], rows = l.rows[s + 1] - l.rows[s];
        int& parent = tree.parent[size_t(s)];
        if (rows > columns) parent = tree.of_column[size_t(l.row[l.rows[s] + columns])];
        const std::vector<int>& below = tree.children[size_t(s)];
        tree.first_below[size_t(s)] = below.empty() ? s : tree.first_below[size_t(below[0])];
        tree.children[size_t(parent)].push_back(s);
    }
    return tree;
}
template EliminationTree tree_of(const Supernodes<double>&);

// From the roots down the dearest branch is cut into those that hang on its last supernode, while it holds more than a
// tenth of all work and there are few.
template <class Real>
Branches branches_of(const Supernodes<Real>& l, const EliminationTree& tree) {
    constexpr size_t most = 8;
    std::vector<double> work(size_t(l.count) + 1, 0.0);
    for (int s = 0; s < l.count; ++s) {
        work[size_t(s)] += double(l.first[s + 1] - l.first[s]) * (l.rows[s + 1] - l.rows[s]);
        work[size_t(tree.parent[size_t(s)])] += work[size_t(s)];
    }
    const auto& children = tree.children;
    std::vector<int> roots = children[size_t(l.count)];
    std::vector<char> in_trunk(size_t(l.count), 0);
    while (!roots.empty() && roots.size() < most) {
        const auto dearest = std::max_element(roots.begin(), roots.end(),
                                              [&](int a, int b) { return work[size_t(a)] < work[size_t(b)]; });
        const int s = *dearest;
        if (work[size_t(s)] < 0.1 * work[size_t(l.count)] || children[size_t(s)].empty()) break;
        in_trunk[size_t(s)] = 1;
        roots.erase(dearest);
        roots.insert(roots.end(), children[size_t(s)].begin(), children[size_t(s)].end());
    }
    std::sort(roots.begin(), roots.end());
    Branches out;
    for (int s : roots) out.branch.push_back({tree.first_below[size_t(s)], s + 1});
    for (int s = 0; s < l.count; ++s)
        if (in_trunk[size_t(s)]) {
            if (out.trunk.empty() || out.trunk.back().to != s) out.trunk.push_back({s, s});
            out.trunk.back().to = s + 1;
        }
    std::vector<int> at(tree.of_column.size(), -1);  // of rows of the trunk
    for (const Branches::Range& t : out.trunk)
        for (int i = l.first[t.from]; i < l.first[t.to]; ++i) at[size_t(i)] = out.trunk_rows++;
    out.row.assign(l.row, l.row + l.rows[l.count]);
    for (const Branches::Range& b : out.branch) {
        const int from = l.first[b.from], own = l.first[b.to] - from;
        for (int k = l.rows[b.from]; k < l.rows[b.to]; ++k) {
            int& i = out.row[size_t(k)];
            i = at[size_t(i)] < 0 ? i - from : own + at[size_t(i)];
        }
    }
    return out;
}
template Branches branches_of(const Supernodes<double>&, const EliminationTree&);

}  // namespace mossbed
