// Moment and shear across cuts through the slab, in equilibrium with loads and ground.
// A cut is a straight line right across the slab. Its totals come from statics: what acts on one side of it, loads as
// they are spread and pressure as it varies over the elements. Along the cut they are shared out as the plate's own
// moments and shears are, and what those miss of the total (near a point load they do) goes where the field is largest.
// So the strips at one cut always add up to the slab, wherever on the mesh the cut falls; docs/decisions.md says why
// not nodal forces.
// Where the slab also stretches in its plane (patches at another level, ribs), a strip carries N beside its moment
// about its own mid-plane, and what adds up to the slab is M − N e, e the height of that mid-plane over the slab's. In
// the plane the base is free to slide, so that N of all strips, ribs and walls together is nought. A rib or wall that
// the cut crosses is a place of its own beside the pieces of slab, with its part of what the field misses.
#pragma once
#include <memory>
#include <optional>
#include <vector>

#include "core/fields/fields.h"

namespace mossbed {

struct CutShare {          // of one strip at one cut, for one thickness and concrete
    double thickness = 0;  // m, of the slab there (stiff footprints not counted)
    double fck = 30;       // MPa, of the concrete there
    double width = 0;      // m
    Eigen::VectorXd M, V;  // per combination of the calculator; kN·m, kN
    Eigen::VectorXd T;     // kN·m: ∫ |m_nt| dn of the plate's twisting moment in the cut's own axes
    Eigen::VectorXd N;     // kN, tension positive; empty where the slab does not stretch
    double e = 0;          // m: its mid-plane over that of the slab; M is about its own
};

struct MemberShare {       // of the ribs and walls that one strip has at one cut; nothing where there are none
    Eigen::VectorXd M, V;  // per combination: M about the slab's mid-plane, N e counted; kN·m, kN
    Eigen::VectorXd N;     // kN
    bool none() const { return M.size() == 0; }
};

class CutForces {
  public:
    // What lies before each place along the direction, summed up once: of the same solution and combinations another
    // CutForces may take it over.
    struct Sums {
        std::vector<std::pair<double, double>> span;  // per element, of t
        std::vector<int> by_end;                      // elements by the end of their span
        double longest_span = 0, longest_area = 0;  // of an element, of an area load's piece: what crosses t ends near
        Eigen::MatrixXd force_before, moment_before;  // sums over by_end, net up, and first moments about t = 0
        Eigen::MatrixXd element_load;                 // kPa down per element
        struct AreaLoadPiece {
            AreaPiece piece;
            Eigen::VectorXd factor;
            double t0, t1;
        };
        struct Concentrated {
            double t, N, m;
            Eigen::VectorXd factor;
        };
        // By their end along u, with sums of those that end before: force and first moment about t = 0 (and moments).
        std::vector<AreaLoadPiece> areas;
        Eigen::MatrixXd area_force_before, area_moment_before;
        std::vector<Concentrated> points;  // point loads, and line loads cut small
        Eigen::MatrixXd point_force_before, point_moment_before;
        double first_t = 0, last_t = 0;
        struct Rim {  // a free side of an element square to the direction
            double t, n0, n1;
        };
        std::vector<Rim> rims;      // by t
        Eigen::VectorXd left_over;  // moment that the sums leave at the far end, from lumping springs at nodes
    };

    // `combinations`: indices into fields.combinations, solved ones. `known`: of the same solution, loads, combinations
    // and direction, or none.
    CutForces(const Fields& fields, std::vector<int> combinations, Point along, const Progress& progress = {},
              std::shared_ptr<const Sums> known = nullptr);
    std::shared_ptr<const Sums> sums() const { return sums_; }

    // The cut at distance t along the direction (t = dot(point, along)); shares between n0 and n1 (n to the left).
    struct Piece {
        double n0, n1, thickness, fck, e;
    };
    enum Value { moment, shear, twisting_moment, plane_force };  // the last only where the slab stretches
    struct MemberPlace {                                         // of a rib or wall that crosses the cut
        double n, e;
        Eigen::VectorXd M, V, N;  // M about its own centroid
        Eigen::VectorXd size_M, size_V;
    };
    struct Cut {
        std::vector<Piece> pieces;
        std::vector<int> by_n;         // pieces by n0
        double widest = 0, width = 0;  // of them, and of all together, m
        Eigen::MatrixXd values;        // of the pieces in turn at n0, then at n1; a row a combination
        std::vector<MemberPlace> members;
        Eigen::VectorXd M, V;                              // totals by statics, M about the slab's mid-plane
        Eigen::VectorXd field_M, field_V, size_M, size_V;  // ∫ of the field (m − n e), and of the size of m
        Eigen::VectorXd N;                                 // ∫ n of the field; empty likewise
    };
    Cut at(double t) const;
    std::vector<CutShare> share(const Cut& cut, double n0, double n1) const;
    MemberShare members_between(const Cut& cut, double n0, double n1) const;

  private:
    const Fields& a_;
    std::vector<int> combinations_;
    Point u_, n_;
    long n_c_ = 0;
    bool coupled_ = false;
    bool has_plane_ = false;  // the fields have forces in the slab's plane
    double e_of(int element) const;
    std::shared_ptr<const Sums> sums_;

    std::vector<int>::const_iterator ends_after(double t) const;
    void sum_up_loads(Sums& to) const;
    void sum_up(Sums& to, const Progress& progress) const;
    std::pair<double, double> acting_before(const Sums::AreaLoadPiece& l, double t) const;  // force, moment about t
    void add_members(Cut& cut, double t) const;
    void close_in_plane(Cut& cut) const;
    bool has_free_rim_at(double t) const;
    bool lies_on_free_rim(const Piece& piece, double t) const;
    int values_an_end() const { return has_plane_ ? 4 : 3; }
    long column(size_t piece, int end, Value v) const { return long(2 * piece + size_t(end)) * values_an_end() + v; }
    bool add_end(Cut& cut, Piece& piece, int element, double t, int side, int end) const;
    void totals(double t, Eigen::VectorXd& V, Eigen::VectorXd& M) const;
    std::pair<double, double> before(const std::array<Point, 4>& quadrilateral, std::optional<double> t) const;
    void pressed(int element, std::optional<double> t, double* F, double* S) const;
};

}  // namespace mossbed
