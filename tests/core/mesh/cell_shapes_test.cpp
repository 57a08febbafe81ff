// Integrals over parts of cells against sums over many small triangles, of shape functions looked up place by place.
#include "core/mesh/cell_shapes.h"

#include <random>

#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using namespace testing;

struct Cell {
    Mesh mesh;
    Polygon part;  // what a line leaves of it
    Point about;
};

class Cells {
  public:
    // `skew`: how far corners move, of half a side.
    Cell next(double skew, bool triangle = false) {
        const Point far{u(-50, 50), u(-50, 50)};
        const double size = std::pow(10, u(-2, 1)), turn = u(0, 360), narrow = u(0.1, 1);
        Cell c;
        for (Point corner : {Point{-1, -1}, {1, -1}, {1, 1}, {-1, 1}}) {
            corner = corner + Point{u(-skew, skew), u(-skew, skew)};
            c.mesh.nodes.push_back(far + size * turned({corner.x + 0.3 * corner.y, narrow * corner.y}, turn));
        }
        c.mesh.elements = {{0, 1, 2, triangle ? -1 : 3}};
        const Point through = far + size * Point{u(-0.3, 0.3), u(-0.3, 0.3)};
        c.part = clip_to_half_plane(c.mesh.polygon(0), through, turned({1, 0}, u(0, 360)));
        c.about = far + Point{u(-3, 3), u(-3, 3)};
        return c;
    }

  private:
    double u(double a, double b) { return std::uniform_real_distribution<double>(a, b)(random_); }
    std::mt19937 random_{17};
};

struct Sums {
    std::array<double, 4> weight{};  // ∫ N_i, m²
    std::array<Point, 4> moment{};   // ∫ N_i (r − about), m³
};
Sums by_moments(const Cell& c) {
    const CellShapes shapes(c.mesh, 0);
    const CellMoments m = shapes.moments(c.part);
    Sums out;
    for (size_t k = 0; k < size_t(corners(c.mesh.elements[0])); ++k) {
        std::array<double, 4> one{};
        one[k] = 1;
        const CellShapes::Integral i = shapes.integral(shapes.field(one), m, c.about);
        out.weight[k] = i.whole, out.moment[k] = i.moment;
    }
    return out;
}

// By `n` × `n` triangles in each of the fan's, exact to the second degree in each.
Sums summed(const Cell& c, int n) {
    Sums out;
    for (size_t i = 1; i + 1 < c.part.size(); ++i) {
        const Point a = c.part[0], u = (1.0 / n) * (c.part[i] - a), v = (1.0 / n) * (c.part[i + 1] - a);
        auto add = [&](Point p, Point q, Point r) {
            integrate(Polygon{p, q, r}, [&](Point at, double w) {
                const auto N = weights_at(c.mesh, 0, at);
                for (size_t k = 0; k < 4; ++k) {
                    out.weight[k] += w * N[k];
                    out.moment[k] = out.moment[k] + w * N[k] * (at - c.about);
                }
            });
        };
        for (int j = 0; j < n; ++j)
            for (int k = 0; j + k < n; ++k) {
                const Point p = a + double(j) * u + double(k) * v;
                add(p, p + u, p + v);
                if (j + k + 1 < n) add(p + u, p + u + v, p + v);
            }
    }
    return out;
}

double arm(const Cell& c) {
    double out = 0;
    for (Point p : c.part) out = std::max(out, distance(p, c.about));
    return out;
}

TEST(CellShapes, AreExactOnParallelogramsAndTriangles) {
    Cells cells;
    for (int i = 0; i < 200; ++i) {
        const Cell c = cells.next(0, i % 3 == 0);
        if (c.part.size() < 3) continue;
        const Sums by = by_moments(c), sum = summed(c, 24);
        const double area = signed_area(c.part);
        for (size_t k = 0; k < 4; ++k) {
            EXPECT_NEAR(by.weight[k], sum.weight[k], 1e-9 * area) << i;
            // a sum of cubic functions by parts that are exact to the second degree
            EXPECT_LT(distance(by.moment[k], sum.moment[k]), 1e-5 * area * arm(c)) << i;
        }
    }
}

TEST(CellShapes, GiveFieldsThatAreLinearInThePlanExactlyOnCellsOfAnyShape) {
    Cells cells;
    for (int i = 0; i < 2000; ++i) {
        const Cell c = cells.next(0.6, i % 5 == 0);
        if (c.part.size() < 3) continue;
        const CellShapes shapes(c.mesh, 0);
        const CellMoments m = shapes.moments(c.part);
        const double area = signed_area(c.part), size = arm(c);
        const CellShapes::Integral one = shapes.integral(shapes.field({1, 1, 1, 1}), m, c.about);
        EXPECT_NEAR(one.whole, area, 1e-10 * size * size) << i;
        EXPECT_LT(distance(one.moment, area * (centroid(c.part) - c.about)), 1e-9 * size * size * size) << i;
        std::array<double, 4> x{}, y{};  // places, put together by the shape functions
        for (size_t k = 0; k < 4; ++k) x[k] = c.mesh.nodes[k].x - c.about.x, y[k] = c.mesh.nodes[k].y - c.about.y;
        const CellField fx = shapes.field(x), fy = shapes.field(y);
        const CellShapes::Integral ix = shapes.integral(fx, m, c.about), iy = shapes.integral(fy, m, c.about);
        EXPECT_LT(distance({ix.whole, iy.whole}, one.moment), 1e-9 * size * size * size) << i;
        EXPECT_NEAR(ix.moment.y, iy.moment.x, 1e-9 * std::pow(size, 4)) << i;  // ∫ x y both ways
        Polygon other = c.part;
        std::reverse(other.begin(), other.end());
        EXPECT_NEAR(shapes.integral(fx, shapes.moments(other), c.about).whole, -ix.whole, 1e-10 * std::pow(size, 3))
            << i;
    }
}

TEST(CellShapes, IntegrateFieldsSideBySideAsEachByItself) {
    Cells cells;
    for (int i = 0; i < 50; ++i) {
        const Cell c = cells.next(0.4, i % 5 == 0);
        if (c.part.size() < 3) continue;
        const CellShapes shapes(c.mesh, 0);
        const CellMoments m = shapes.moments(c.part);
        const size_t count = 1 + size_t(i) % 7;
        std::vector<double> fields(6 * count), sums(3 * count, 2.5);
        std::vector<CellField> each(count);
        for (size_t k = 0; k < count; ++k)
            for (size_t j = 0; j < 6; ++j) fields[j * count + k] = each[k][j] = std::sin(double(7 * k + 3 * j + 1));
        shapes.add_integrals(fields.data(), count, m, c.about, sums.data());
        for (size_t k = 0; k < count; ++k) {
            const CellShapes::Integral one = shapes.integral(each[k], m, c.about);
            const double size = c.mesh.area(0) * (1 + arm(c));
            EXPECT_NEAR(sums[k] - 2.5, one.whole, 1e-12 * size + 1e-15) << i << " " << k;
            EXPECT_NEAR(sums[count + k] - 2.5, one.moment.x, 1e-12 * size + 1e-15) << i << " " << k;
            EXPECT_NEAR(sums[2 * count + k] - 2.5, one.moment.y, 1e-12 * size + 1e-15) << i << " " << k;
        }
    }
}

TEST(CellShapes, FollowTheBilinearOnesClosely) {
    Cells cells;
    double worst = 0;
    for (const double skew : {0.1, 0.3}) {
        double off = 0, off_whole = 0;
        for (int i = 0; i < 300; ++i) {
            Cell c = cells.next(skew);
            auto look = [&](double& furthest) {
                if (c.part.size() < 3 || signed_area(c.part) < 0.02 * c.mesh.area(0)) return;
                const Sums by = by_moments(c), sum = summed(c, 8);
                for (size_t k = 0; k < 4; ++k)
                    furthest = std::max(furthest, std::abs(by.weight[k] - sum.weight[k]) / c.mesh.area(0));
            };
            look(off);
            c.part = c.mesh.polygon(0);
            look(off_whole);
        }
        // of the cell's area, while shape functions are a quarter of it
        EXPECT_LT(off, 0.02 * skew);
        EXPECT_LT(off_whole, 0.01 * skew * skew);
        EXPECT_GT(off, worst);  // the more askew
        worst = off;
    }
}

}  // namespace
}  // namespace mossbed
