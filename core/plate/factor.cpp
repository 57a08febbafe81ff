#include "core/plate/factor.h"

#include <cholmod.h>
#include <omp.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <mutex>
#include <stdexcept>
#include <thread>

extern "C" void openblas_set_num_threads(int);

namespace mossbed {

void hold_blas_to_one_thread() {
    static std::once_flag once;
    std::call_once(once, [] {
        omp_set_max_active_levels(0);
        openblas_set_num_threads(1);
    });
}

namespace {

int n_workers() { return std::clamp(int(std::thread::hardware_concurrency()), 1, 8); }
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

}  // namespace

struct Factor::Parts {
    std::vector<Workspace> work = std::vector<Workspace>(size_t(n_workers()));  // one a thread
    cholmod_factor* factor = nullptr;
    ~Parts() { cholmod_free_factor(&factor, &work[0].common); }
};

Factor::Factor(const SparseLower& m) : parts_(std::make_unique<Parts>()) {
    hold_blas_to_one_thread();
    cholmod_common& c = parts_->work[0].common;
    // The graph of the nodes, lower triangle: every third column and row.
    const int n = m.size() / 3;
    SparseLower graph;
    graph.start.push_back(0);
    for (int j = 0; j < n; ++j) {
        for (int k = m.start[3 * j]; k < m.start[3 * j + 1]; ++k)
            if (m.row[k] % 3 == 0) graph.row.push_back(m.row[k] / 3);
        graph.start.push_back(int(graph.row.size()));
    }
    graph.value.assign(graph.row.size(), 1.0);
    cholmod_sparse g = view(graph);
    g.xtype = CHOLMOD_PATTERN;
    std::vector<int> of_nodes(n), of_unknowns(3 * size_t(n));
    const int done = n > metis_above ? cholmod_metis(&g, nullptr, 0, 1, of_nodes.data(), &c)
                                     : cholmod_amd(&g, nullptr, 0, of_nodes.data(), &c);
    if (!done) throw std::runtime_error("the ordering of the equations failed");
    for (int i = 0; i < n; ++i)
        for (int k = 0; k < 3; ++k) of_unknowns[3 * i + k] = 3 * of_nodes[i] + k;
    c.nmethods = 1;
    c.method[0].ordering = CHOLMOD_GIVEN;
    c.postorder = 1;
    c.supernodal = CHOLMOD_SUPERNODAL;
    cholmod_sparse a = view(m);
    parts_->factor = cholmod_analyze_p(&a, of_unknowns.data(), nullptr, 0, &c);
    if (!parts_->factor) throw std::runtime_error("the equations are too many for the memory");
}

Factor::~Factor() = default;
Factor::Factor(Factor&&) noexcept = default;
Factor& Factor::operator=(Factor&&) noexcept = default;

bool Factor::factorize(const SparseLower& m) {
    cholmod_sparse a = view(m);
    cholmod_common& c = parts_->work[0].common;
    if (!cholmod_factorize(&a, parts_->factor, &c))
        throw std::runtime_error("the equations are too many for the memory");
    return c.status == CHOLMOD_OK;
}

void Factor::solve_in_place(Eigen::MatrixXd& b) const {
    const long columns = b.cols(), rows = b.rows();
    const int chunks = columns > 1 && rows * columns > 4000 ? int(std::min<long>(columns, n_workers())) : 1;
    tbb::parallel_for(0, chunks, [&](int k) {
        const long from = columns * k / chunks, n = columns * (k + 1) / chunks - from;
        if (n == 0) return;
        Workspace& w = parts_->work[k];
        cholmod_dense in{};
        in.nrow = size_t(rows), in.ncol = size_t(n), in.nzmax = size_t(rows * n), in.d = size_t(rows);
        in.x = b.data() + from * rows;
        in.xtype = CHOLMOD_REAL, in.dtype = CHOLMOD_DOUBLE;
        if (!cholmod_solve2(CHOLMOD_A, parts_->factor, &in, nullptr, &w.x, nullptr, &w.y, &w.e, &w.common))
            throw std::runtime_error("the equations are too many for the memory");
        std::copy_n(static_cast<const double*>(w.x->x), rows * n, b.data() + from * rows);
    });
}

double Factor::fill() const {
    // nzmax of a supernodal factor is symbolic; xsize counts the stored values
    return double(parts_->factor->xsize);
}

}  // namespace mossbed
