// Ribs and walls that stiffen: their forces, and what of them is not judged yet.
#include <fmt/format.h>

#include "core/judge/checks.h"
#include "core/judge/design.h"
#include "core/model/levels.h"

namespace mossbed {
namespace {

DesignCode::SpanKind kind_of(const RibSpan& s) {
    if (s.begins_free && s.ends_free) return DesignCode::SpanKind::end;
    if (!s.begins_free && !s.ends_free) return DesignCode::SpanKind::inner;
    return s.next > 0 ? DesignCode::SpanKind::cantilever : DesignCode::SpanKind::end;
}

// The largest moment by size outside supports, of all combinations.
void find_largest(const Fields& f, const MemberLine& line, const Eigen::MatrixXd& M, Row& row) {
    double most = -1;
    for (long i = 0; i < M.rows(); ++i)
        for (long c = 0; c < M.cols(); ++c)
            if (const double v = std::abs(M(i, c)); !line.stations[size_t(i)].in_support && v > most) {
                most = v, row.value = M(i, c), row.at = line.stations[size_t(i)].at;
                row.combination = f.combinations[size_t(c)].combination.id;
            }
}

Row row_of_member(const Fields& f, const MemberLine& line, const DesignCode* code) {
    const Model& m = *f.model;
    const bool is_rib = line.kind == Member::Kind::rib;
    const std::string& id = is_rib ? m.ribs[size_t(line.index)].id : m.walls[size_t(line.index)].id;
    Row row = row_of(is_rib ? "rib" : "wall", (is_rib ? "Rib " : "Wall ") + id, id);
    row.unit = Unit::kilonewton_metre;
    find_largest(f, line, is_rib && line.M.size() > 0 ? line.M : line.M_alone, row);
    row.note = is_rib
                   ? "Its moments, shears and torsion are found, its bars and links are not designed: take M, V and T "
                     "from the results."
                   : "It stiffens the slab; its own concrete and steel are not checked: take N, M and V from the "
                     "results.";
    if (is_rib)
        row.note += code ? fmt::format(" Its flange is by {}.", code->flange_clause())
                         : std::string(" Without a design code its flange, and so M, V and T, are not known.");
    return row;
}

}  // namespace

std::vector<Row> judge_members(const Fields& f, const DesignCode* code, Judgement& out, const Progress& progress) {
    if (f.plate.members.none()) return {};
    Overhang overhang;
    if (code)
        overhang = [code](double clear, const RibSpan& s) {
            return code->flange_overhang(clear, code->zero_moment_distance(kind_of(s), s.length(), s.next));
        };
    out.members = member_lines(f, overhang, progress);
    std::vector<Row> rows;
    for (const MemberLine& line : out.members) rows.push_back(row_of_member(f, line, code));
    return rows;
}

}  // namespace mossbed
