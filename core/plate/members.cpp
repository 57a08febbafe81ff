#include "core/plate/members.h"

#include <algorithm>
#include <map>
#include <numeric>
#include <optional>

#include "core/model/levels.h"

namespace mossbed {

double torsion_constant(double side, double other_side) {
    const double a = std::max(side, other_side), b = std::min(side, other_side), r = b / a;
    return a * b * b * b * (1.0 / 3 - 0.21 * r * (1 - r * r * r * r / 12));
}

namespace {

MemberSection section_of(const Concrete& concrete, double factor, double width, const std::vector<Levels>& parts,
                         double reference) {
    MemberSection s;
    s.E = concrete.E * 1000 * factor, s.G = s.E / (2 * (1 + concrete.nu));
    double moment = 0;
    for (const Levels& p : parts) s.A += width * p.height(), moment += width * p.height() * p.middle();
    if (!s.is_there()) return s;
    const double centroid = moment / s.A;
    for (const Levels& p : parts) {
        const double h = p.height(), d = p.middle() - centroid;
        s.I += width * h * (h * h / 12 + d * d);
        s.J += torsion_constant(width, h);
    }
    s.A_shear = 5.0 / 6 * s.A;
    s.e = centroid - reference;
    return s;
}

// Walks one member's sides of the mesh in the order of its path.
class Walk {
  public:
    Walk(const std::vector<Point>& path, const Mesh& mesh, LineOwner owner, double tolerance)
        : mesh_(mesh), tolerance_(tolerance) {
        double before = 0;
        std::vector<std::pair<int, int>> sides;
        for (const MeshLine& l : mesh.lines)
            if (l.owner == owner) sides.push_back({l.a, l.b});
        for (size_t k = 0; k + 1 < path.size(); ++k) {
            const double l = distance(path[k], path[k + 1]);
            for (auto [a, b] : sides) add(path[k], path[k + 1], before, a, b);
            before += l;
        }
        std::sort(pieces.begin(), pieces.end(), [](const auto& p, const auto& q) { return p.s0 < q.s0; });
    }
    std::vector<MemberPiece> pieces;

  private:
    void add(Point from, Point to, double before, int a, int b) {
        const Point p = mesh_.nodes[size_t(a)], q = mesh_.nodes[size_t(b)], t = unit(to - from);
        const double l = distance(from, to);
        auto off = [&](Point r) { return std::abs(cross(r - from, t)); };
        double sa = dot(p - from, t), sb = dot(q - from, t);
        if (off(p) > tolerance_ || off(q) > tolerance_ || std::min(sa, sb) < -tolerance_ ||
            std::max(sa, sb) > l + tolerance_ || std::abs(sb - sa) < 1e-9)
            return;
        if (sa > sb) std::swap(a, b), std::swap(sa, sb);
        MemberPiece piece;
        piece.a = a, piece.b = b, piece.s0 = before + std::max(0.0, sa), piece.s1 = before + std::min(l, sb);
        piece.along = unit(mesh_.nodes[size_t(b)] - mesh_.nodes[size_t(a)]);
        pieces.push_back(piece);
    }
    const Mesh& mesh_;
    double tolerance_;
};

class Maker {
  public:
    Maker(const Model& m, const Mesh& mesh, double reference)
        : m_(m), mesh_(mesh), reference_(reference), tolerance_(1.5 * std::min(1e-3, mesh.size / 200)) {
        for (const MeshLine& l : mesh.lines)
            if (l.owner.kind == LineOwner::Kind::rib || l.owner.kind == LineOwner::Kind::wall)
                beside_[std::minmax(l.a, l.b)];
        if (beside_.empty()) return;
        for (int e = 0; e < int(mesh.elements.size()); ++e) {
            const Element& of = mesh.elements[size_t(e)];
            for (size_t k = 0, n = size_t(corners(of)); k < n; ++k)
                if (const auto it = beside_.find(std::minmax(of[k], of[(k + 1) % n])); it != beside_.end())
                    it->second.push_back(e);
        }
    }

    Members all() {
        for (int i = 0; i < int(m_.ribs.size()); ++i) {
            const Rib& r = m_.ribs[size_t(i)];
            add(Member::Kind::rib, i, r.path, r.width, r.over_openings == OverOpenings::carry,
                concrete_of(m_, r.concrete), r.stiffness_factor);
        }
        for (int i = 0; i < int(m_.walls.size()); ++i)
            if (const Wall& w = m_.walls[size_t(i)]; w.stiffens)
                add(Member::Kind::wall, i, w.path, w.thickness, true, concrete_of(m_, m_.slab.concrete),
                    w.stiffness_factor);
        return std::move(out_);
    }

  private:
    void add(Member::Kind kind, int index, const std::vector<Point>& path, double width, bool is_carried,
             const Concrete& concrete, double factor) {
        const LineOwner owner{kind == Member::Kind::rib ? LineOwner::Kind::rib : LineOwner::Kind::wall, index};
        std::vector<MemberPiece> pieces = Walk(path, mesh_, owner, tolerance_).pieces;
        if (is_carried) bridge_openings(pieces);
        Member member{kind, index, width, {}};
        for (MemberPiece& p : pieces) {
            std::vector<Levels> own = kind == Member::Kind::rib
                                          ? std::vector{levels_of(m_, m_.ribs[size_t(index)])}
                                          : std::vector{levels_of(m_, m_.walls[size_t(index)], patch_beside(p))};
            if (!p.spans_opening) own = outside(own, slab_levels(m_, patch_beside(p)));
            if (kind == Member::Kind::wall)  // a rib that it stands in counts once
                for (const Rib& r : ribs_along(p)) own = outside(own, levels_of(m_, r));
            p.section = section_of(concrete, factor, width, own, reference_);
            if (!p.section.is_there()) continue;
            p.member = int(out_.list.size());
            member.pieces.push_back(int(out_.pieces.size()));
            out_.pieces.push_back(p);
        }
        if (!member.pieces.empty()) out_.list.push_back(std::move(member));
    }

    // Pieces from the end of one run of sides to the start of the next, where an opening lies between them.
    void bridge_openings(std::vector<MemberPiece>& pieces) const {
        std::vector<MemberPiece> with;
        for (const MemberPiece& p : pieces) {
            if (!with.empty() && p.s0 > with.back().s1 + tolerance_ && p.a != with.back().b) {
                MemberPiece over = p;
                over.a = with.back().b, over.b = p.a, over.s0 = with.back().s1, over.s1 = p.s0;
                over.along = unit(mesh_.nodes[size_t(over.b)] - mesh_.nodes[size_t(over.a)]);
                over.spans_opening = true;
                with.push_back(over);
            }
            with.push_back(p);
        }
        pieces = std::move(with);
    }

    // The thicker of the two cells beside a side counts.
    const SlabPatch* patch_beside(const MemberPiece& p) const {
        const auto it = beside_.find(std::minmax(p.a, p.b));
        const SlabPatch* thickest = nullptr;
        double most = -1;
        if (it != beside_.end())
            for (int e : it->second) {
                const int patch = mesh_.patch[size_t(e)];
                const SlabPatch* t = patch < 0 ? nullptr : &m_.slab.patches[size_t(patch)];
                if (const double h = slab_levels(m_, t).height(); h > most) most = h, thickest = t;
            }
        return thickest;
    }

    std::vector<Rib> ribs_along(const MemberPiece& p) const {
        std::vector<Rib> out;
        if (m_.ribs.empty()) return out;
        for (const MeshLine& l : mesh_.lines)
            if (l.owner.kind == LineOwner::Kind::rib && std::minmax(l.a, l.b) == std::minmax(p.a, p.b))
                out.push_back(m_.ribs[size_t(l.owner.index)]);
        return out;
    }

    const Model& m_;
    const Mesh& mesh_;
    double reference_, tolerance_;
    std::map<std::pair<int, int>, std::vector<int>> beside_;  // cells by side
    Members out_;
};

// Strains of a piece: rows axial at its centroid, curvature, shear, twist; columns s, bx, by, u, v of both nodes.
struct Strains {
    Eigen::Matrix<double, 4, 10> rows;
    Eigen::Vector4d stiffness;
    double length;
};

Strains strains_of(const MemberPiece& p) {
    const MemberSection& c = p.section;
    const double L = p.s1 - p.s0;
    const Point t = p.along, n = left_of(t);
    Strains out{Eigen::Matrix<double, 4, 10>::Zero(), {}, L};
    for (int end : {0, 1}) {
        const int k = 5 * end;
        const double per = (end ? 1 : -1) / L;
        out.rows(0, k + 1) = per * c.e * t.x, out.rows(0, k + 2) = per * c.e * t.y;
        out.rows(0, k + 3) = per * t.x, out.rows(0, k + 4) = per * t.y;
        out.rows(1, k + 1) = per * t.x, out.rows(1, k + 2) = per * t.y;
        out.rows(2, k) = per, out.rows(2, k + 1) = -t.x / 2, out.rows(2, k + 2) = -t.y / 2;
        out.rows(3, k + 1) = per * n.x, out.rows(3, k + 2) = per * n.y;
    }
    // What bends within a piece turns with slab and member together where it lies on the slab: their joint stiffness is
    // near that of the member about the slab's middle.
    const double bending = c.E * (p.spans_opening ? c.I : c.I + c.A * c.e * c.e);
    const double shear = 1 / (1 / (c.G * c.A_shear) + L * L / (12 * bending));
    out.stiffness << c.E * c.A, c.E * c.I, shear, c.G * c.J;
    return out;
}

}  // namespace

Members make_members(const Model& model, const Mesh& mesh, double reference) {
    return Maker(model, mesh, reference).all();
}

MemberMatrix member_stiffness(const MemberPiece& piece) {
    const Strains s = strains_of(piece);
    return s.length * s.rows.transpose() * s.stiffness.asDiagonal() * s.rows;
}

MemberForces member_forces(const MemberPiece& piece, const Unknowns& of, const Eigen::VectorXd& x) {
    const Strains s = strains_of(piece);
    Eigen::Matrix<double, 10, 1> u;
    for (int end : {0, 1}) u.segment<5>(5L * end) = x.segment<5>(of.row(end ? piece.b : piece.a, Unknown::s));
    const Eigen::Vector4d strain = s.rows * u, force = s.stiffness.cwiseProduct(strain);
    return {force[0], -force[1], force[2], -force[3]};
}

}  // namespace mossbed
