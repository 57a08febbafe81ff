#include "core/base/dense.h"

#include <cblas.h>
#include <tbb/parallel_for.h>

#include "core/base/one_thread.h"

extern "C" void dpotrf_(const char* uplo, const int* n, double* a, const int* lda, int* info);

namespace mossbed {

void multiply(const RowMatrix& a, const Eigen::MatrixXd& x, Eigen::MatrixXd& out, bool add) {
    hold_algebra_to_one_thread();
    if (!add) out.resize(a.rows(), x.cols());
    const long step = 256, n = a.cols();
    if (a.rows() == 0 || x.cols() == 0) return;
    // A common scale keeps the range of single precision out of sight.
    const double scale = x.cwiseAbs().maxCoeff();
    if (!(scale > 0)) {
        if (!add) out.setZero();
        return;
    }
    const Eigen::MatrixXf in = (x / scale).cast<float>();
    tbb::parallel_for(long(0), (a.rows() + step - 1) / step, [&](long k) {
        const long from = k * step;
        const int rows = int(std::min(step, a.rows() - from));
        Eigen::MatrixXf part(rows, in.cols());
        if (x.cols() == 1)
            cblas_sgemv(CblasColMajor, CblasTrans, int(n), rows, 1, a.data() + from * n, int(n), in.data(), 1, 0,
                        part.data(), 1);
        else
            cblas_sgemm(CblasColMajor, CblasTrans, CblasNoTrans, rows, int(in.cols()), int(n), 1, a.data() + from * n,
                        int(n), in.data(), int(n), 0, part.data(), rows);
        if (add)
            out.middleRows(from, rows) += scale * part.cast<double>();
        else
            out.middleRows(from, rows) = scale * part.cast<double>();
    });
}

bool cholesky_in_place(Eigen::MatrixXd& a) {
    const int n = int(a.rows());
    int info = 0;
    dpotrf_("L", &n, a.data(), &n, &info);
    return info == 0;
}

}  // namespace mossbed
