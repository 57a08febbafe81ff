// The unknowns of a plate at its nodes, by name. Three a node: the settlement s (m, down) and the slopes bx, by of the
// cross-sections (see element.h); five where ribs, stiffening walls or patches at another level make the slab stretch
// in its plane: u, v (m, along +x, +y, of the reference plane). All of a node stand together, in this order. Nobody
// else counts rows: vectors of unknowns and of nodal loads are read by row(node, name).
#pragma once
#include <Eigen/Dense>

namespace mossbed {

enum class Unknown : int { s = 0, bx = 1, by = 2, u = 3, v = 4 };

class Unknowns {
  public:
    static constexpr int bending = 3, with_plane = 5;  // a node

    Unknowns() = default;
    explicit Unknowns(long nodes, int a_node = bending) : nodes_(nodes), a_node_(a_node) {}
    long nodes() const { return nodes_; }
    int a_node() const { return a_node_; }
    long count() const { return nodes_ * a_node_; }
    bool has_plane() const { return a_node_ == with_plane; }
    long row(long node, Unknown of) const { return a_node_ * node + int(of); }
    long node_of(long row) const { return row / a_node_; }
    bool operator==(const Unknowns&) const = default;

    // s, bx, by of a node: rows of a matrix with a column a combination.
    template <class M>
    auto bending_rows(M& x, long node) const {
        return x.template middleRows<bending>(a_node_ * node);
    }

  private:
    long nodes_ = 0;
    int a_node_ = bending;
};

// The unknowns of one combination, with their names.
struct NodalMotion {
    Unknowns of;
    Eigen::VectorXd x;
    bool none() const { return x.size() == 0; }
    double settlement(long node) const { return x[of.row(node, Unknown::s)]; }  // m, down
    double slope_x(long node) const { return x[of.row(node, Unknown::bx)]; }
    double slope_y(long node) const { return x[of.row(node, Unknown::by)]; }
};

}  // namespace mossbed
