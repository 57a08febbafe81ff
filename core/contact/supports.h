// What holds the slab from below: one list for every kind of support and both ways of solving (contact.h).
// A support sees a settlement of the plate, Σ weights · unknowns, and presses up on it by a force r (kN) spread over
// nodal loads. On its own it is a spring: r = k s, held between `lowest` and `highest`; ground that cannot pull has
// lowest = 0, ground that yields a finite highest. Where a flexibility joins supports through the ground, k is only a
// spring of the right size. Units kN, m.
#pragma once
#include <algorithm>
#include <limits>
#include <optional>
#include <vector>

#include "core/base/geometry.h"
#include "core/mesh/unknowns.h"
#include "core/plate/sparse_lower.h"

namespace mossbed {

enum class SupportKind : char { ground };

struct Support {
    struct Share {  // of one node: weight of its settlement, acting at `offset` (m) from the node
        int node = 0;
        double weight = 1;
        Point offset;
    };
    std::vector<Share> sees;     // weights sum to 1
    std::vector<Share> presses;  // nodal loads of a unit force, likewise; empty: as it sees
    double stiffness = 0;        // kN/m
    double lowest = 0, highest = std::numeric_limits<double>::infinity();  // kN
    SupportKind kind = SupportKind::ground;
    double area = 0;  // m² of the base; 0 for a support at a point
};

class Supports {
  public:
    using Vector = Eigen::VectorXd;
    using Matrix = Eigen::MatrixXd;

    Supports() = default;
    explicit Supports(const Unknowns& of) : of_(of) {}
    void add(const Support& support);

    int count() const { return int(stiffness.size()); }
    std::vector<double> stiffness, lowest, highest, area;  // per support; units as in Support
    std::vector<SupportKind> kind;

    // As a spring of its own, at settlement s (m).
    double force(int j, double s) const { return std::clamp(stiffness[j] * s, lowest[j], highest[j]); }
    bool is_elastic(int j, double s) const { return stiffness[j] * s > lowest[j] && stiffness[j] * s <= highest[j]; }

    double settlement(int j, const Vector& x) const {
        double s = 0;
        for (int k = sees_.start[j]; k < sees_.start[j + 1]; ++k) s += sees_.weight[k] * x[sees_.row[k]];
        return s;
    }
    // f += F at the support, spread as it sees: what its spring does.
    void add_as_seen(int j, double F, Vector& f) const {
        for (int k = sees_.start[j]; k < sees_.start[j + 1]; ++k) f[sees_.row[k]] += sees_.weight[k] * F;
    }
    Matrix settlements(const Matrix& x) const;                             // of all supports, a column each
    void add_as_seen(const Matrix& forces, double sign, Matrix& f) const;  // likewise
    void add_pressing(const Matrix& forces, double sign, Matrix& f) const;
    Vector work_of_pressing(const Vector& x) const;  // of unit forces on these unknowns

    // The plate's stiffness with a spring at each support: room for what they couple, and springs added to that. Those
    // that see many unknowns have their force as an unknown (sparse_lower.h).
    SparseLower with_room(const SparseLower& plate) const;
    void add_springs(SparseLower& to) const;
    SparseLower with_springs(const SparseLower& plate) const;

    struct Rows {  // of a sparse matrix, one a support: unknowns and their weights
        std::vector<int> start{0}, row;
        std::vector<double> weight;
    };
    const Rows& seen() const { return sees_; }
    const Rows& pressed() const { return presses_; }

  private:
    // Of those that see few unknowns, or of those that see many; with their springs.
    std::pair<std::vector<SparseRow>, std::vector<double>> springs(bool many) const;
    static void add_spread(const Rows& rows, const Matrix& forces, double sign, Matrix& f);
    void add_row(Rows& to, const std::vector<Support::Share>& shares) const;
    Unknowns of_;
    Rows sees_, presses_;
};

// The three motions of the slab as a rigid body, which no plate stiffness sees: what loads and supports do on them, and
// corrections that close them. Lengths about the middle of the nodes.
class RigidMotions {
  public:
    using Sums = Eigen::Vector3d;  // force down, and first moments of it in x and y
    RigidMotions(const Unknowns& of, const std::vector<Point>& nodes, const Supports& supports);

    Sums of_loads(const Eigen::VectorXd& f) const;
    Sums of_forces(const Eigen::VectorXd& r) const;  // of the supports, up
    double size_of(const Eigen::VectorXd& f) const;  // kN: all loads by their size
    // Largest of the three sums out of balance over the size of the loads.
    double error(const Sums& out_of_balance, double size) const;
    bool is_rounding(const Sums& out_of_balance, double size, double share) const;
    // The motion a that springs of stiffness `weight` need to carry `sums`; none where they do not hold the slab.
    std::optional<Sums> carried_by(const Eigen::VectorXd& weight, const Sums& sums) const;
    double at_support(const Sums& a, int j) const { return modes_.row(j).dot(a); }
    void move(const Sums& a, Eigen::VectorXd& x) const;

  private:
    Unknowns of_;
    std::vector<Point> from_middle_;  // nodes
    double span_ = 0;
    Eigen::Matrix<double, Eigen::Dynamic, 3> modes_, pressed_;  // per support: as seen, and of a unit force
};

}  // namespace mossbed
