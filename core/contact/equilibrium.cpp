#include "core/contact/equilibrium.h"

namespace mossbed {

const char* name_of(Ending e) {
    switch (e) {
        case Ending::solved:
            return "solved";
        case Ending::lifts_free:
            return "lifts free";
        case Ending::overturns:
            return "overturns";
        case Ending::yields_through:
            return "yields through";
        case Ending::not_converged:
            return "not converged";
        case Ending::not_solved:
            break;
    }
    return "not solved";
}

Balance find_balance(const Resultant& all, const Polygon& hull) {
    Balance b;
    const Box box = box_of(hull);
    const double span = std::max(box.width(), box.height());
    const Point m = box.middle();  // about the base's own middle: its place on the plan must not matter
    const double moment = std::abs(all.Mx + all.Fz * m.y) + std::abs(all.My - all.Fz * m.x);
    if (all.Fz == 0 && moment == 0) return b;  // nothing acts: nothing moves
    if (all.Fz <= 1e-9 * moment / span) {
        b.ending = Ending::lifts_free;
        b.net_uplift = -all.Fz;
        return b;
    }
    b.landing = all.landing();
    const double depth = depth_in_convex(hull, b.landing);
    if (depth <= 1e-6 * span) {
        b.ending = Ending::overturns;
        b.outside = std::max(0.0, -depth);
    }
    return b;
}

double yield_load_factor(const Resultant& all, const std::vector<Point>& nodes, const std::vector<double>& area,
                         double yield) {
    // Planes 1/λ-normalised by the work of the loads: z = c0 + cx·(x − X) + cy·(y − Y) about the landing point (X, Y)
    // does work Fz·c0, so c0 = 1/Fz; minimise Σ A (z)₊ over the two tilts by Newton's method with halving. Convex.
    const Point at = all.landing();
    auto value = [&](double cx, double cy, Eigen::Vector2d* gradient, Eigen::Matrix2d* hessian) {
        double sum = 0;
        if (gradient) gradient->setZero(), hessian->setZero();
        const double soft = 1e-3 / all.Fz;  // a rounded corner keeps the second derivative finite
        for (size_t i = 0; i < nodes.size(); ++i) {
            const Eigen::Vector2d d(nodes[i].x - at.x, nodes[i].y - at.y);
            const double z = 1 / all.Fz + cx * d.x() + cy * d.y(), r = std::sqrt(z * z + soft * soft);
            sum += area[i] * (z + r) / 2;
            if (!gradient) continue;
            *gradient += area[i] * (1 + z / r) / 2 * d;
            *hessian += area[i] * soft * soft / (2 * r * r * r) * d * d.transpose();
        }
        return sum;
    };
    Eigen::Vector2d c(0, 0), g;
    Eigen::Matrix2d H;
    double now = value(0, 0, &g, &H);
    for (int pass = 0; pass < 200; ++pass) {
        H += (1e-12 * H.trace() + 1e-300) * Eigen::Matrix2d::Identity();
        const Eigen::Vector2d step = -H.ldlt().solve(g);
        double t = 1, next = now;
        constexpr int halvings = 40;  // to 1e-12 of the step
        for (int k = 0; k < halvings; ++k, t /= 2)
            if (next = value(c[0] + t * step[0], c[1] + t * step[1], nullptr, nullptr); next < now) break;
        if (t <= 1e-12 || now - next < 1e-10 * now) break;
        c += t * step;
        now = value(c[0], c[1], &g, &H);
    }
    return yield * now;
}

}  // namespace mossbed
