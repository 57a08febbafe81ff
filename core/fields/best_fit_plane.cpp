#include "core/fields/best_fit_plane.h"

namespace mossbed {

SettledPlane best_fit_plane(const Fields& a, const CombinationAnswer& c) {
    Box box;
    for (Point p : a.mesh.nodes) box.add(p);
    Eigen::Matrix3d A = Eigen::Matrix3d::Zero();
    Eigen::Vector3d b = Eigen::Vector3d::Zero();
    for (int i = 0; i < int(a.mesh.nodes.size()); ++i) {
        const Point p = a.mesh.nodes[size_t(i)] - box.middle();
        const Eigen::Vector3d f(1, p.x, p.y);
        A += a.shares.area[size_t(i)] * f * f.transpose();
        b += a.shares.area[size_t(i)] * c.settlement(i) * f;
    }
    const Eigen::Vector3d plane = A.ldlt().solve(b);
    return {plane[0], plane[1], plane[2], box.middle()};
}

}  // namespace mossbed
