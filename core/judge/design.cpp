#include "core/judge/design.h"

#include <fmt/format.h>

#include "core/base/units.h"
#include "core/judge/strip_judge.h"
#include "core/steel/bar_regions.h"

namespace mossbed {
namespace {

std::string why_no_design(const Model& m, const DesignCode* code, const StripDemand& demand) {
    if (!code) return why_no_code(m.settings);
    if (covers_leave_no_depth(m))
        return fmt::format("The covers of {:g} and {:g} mm leave hardly any depth for bars in {:g} mm of slab.",
                           m.steel.cover_top, m.steel.cover_bottom, 1000 * thinnest(m));
    if (demand.n_design == 0) return "There is no solved strength combination to design with.";
    return "";
}

std::vector<Row> open_rows(const std::string& why) {
    std::vector<Row> rows;
    for (const auto& [id, title] : {std::pair{"bending", "Bending and steel"},
                                    {"minimum-steel", "Minimum steel"},
                                    {"one-way-shear", "One-way shear"},
                                    {"spacing", "Spacing of bars"},
                                    {"anchorage", "Anchorage and laps"}}) {
        rows.push_back(row_of(id, title));
        rows.back().note = why;
    }
    return rows;
}

void append(std::vector<Row>& to, std::vector<Row> rows) {
    for (Row& r : rows) to.push_back(std::move(r));
}

// Concrete by the mesh, base and extra bars without laps.
void take_quantities(const Fields& f, SteelAnswer& steel) {
    const Model& m = *f.model;
    for (int e = 0; e < int(f.mesh.elements.size()); ++e) {
        const int patch = f.mesh.patch[size_t(e)];
        steel.concrete_m3 += f.mesh.area(e) * (patch < 0 ? m.slab.thickness : m.slab.patches[size_t(patch)].thickness);
    }
    double mm2_m2 = 0;  // mm²/m times m²
    for (const BarRegion& r : regions_of(m, steel)) mm2_m2 += r.area_a_metre() * area_on_slab(r, f.mesh);
    steel.steel_kg = mm2_m2 * 1e-6 * steel_density;
}

void judge_strips(const Fields& f, Judgement& out, const Progress& progress) {
    const StripDemand& demand = *out.demand;
    const Model& m = *f.model;
    auto code = make_code(m.settings);
    append(out.checks, look_at_strips(m, demand, *out.shear_demand, stated_bars(m), code.get()));
    const std::string why = why_no_design(m, code.get(), demand);
    if (!why.empty()) append(out.checks, open_rows(why));
    static_cast<BaseBars&>(out.steel) = stated_bars(m);
    out.steel.strips = demand.strips;
    if (!why.empty() && demand.combinations.empty()) return;
    Provision steel(m, code.get(), stated_bars(m));
    const StripProvision strips(demand, steel, m);
    if (!why.empty()) {  // moments and shears need no code
        const bool with_code = code && !covers_leave_no_depth(m);
        const std::optional<RequiredSteel> needs =
            with_code ? std::optional<RequiredSteel>(std::in_place, m, *code, demand, steel) : std::nullopt;
        out.steel.strips = record_sections(f, demand, strips, needs ? &*needs : nullptr);
        return;
    }
    progress.end_if_stopped();
    choose_base_bars(steel, m, *code, demand, strips);
    static_cast<BaseBars&>(out.steel) = steel.bars();
    const StripJudge j{f, m, *code, demand, steel, strips, progress};
    const RequiredSteel needs = j.needs();
    out.steel.strips = record_sections(f, demand, strips, &needs);
    for (auto* judge : {judge_bending, judge_minimum_steel, judge_spacing, judge_anchorage}) {
        progress.end_if_stopped();
        append(out.checks, judge(j));
    }
    progress.end_if_stopped();
    if (out.shear_demand == out.demand) return append(out.checks, judge_one_way_shear(j));
    const StripProvision for_shear(*out.shear_demand, steel, m);
    append(out.checks, judge_one_way_shear({f, m, *code, *out.shear_demand, steel, for_shear, progress}));
}

}  // namespace

void judge_design(const Fields& f, const Judgement* before, Judgement& out, const Progress& progress) {
    const Model& m = *f.model;
    progress.report(0.65, "strips");
    const BaseBars stated = stated_bars(m);
    auto depth = [&](Direction d) { return effective_depth(m, stated, Face::bottom, d, m.slab.thickness) / 1000; };
    const auto code = make_code(m.settings);
    BandRule band;  // without a code strips are laid out as with the one that there is
    const std::unique_ptr<DesignCode> usual = code ? nullptr : make_code(Settings{});
    const DesignCode& says = code ? *code : *usual;
    band.share = says.share_in_concentration();
    band.width = [&](const Column& c, double across) {
        const double d = mean_depth(m, stated, Face::bottom, thickness_at(m, c.at)) / 1000;
        return says.width_of_concentration(across, std::max(0.0, d));
    };
    const std::array<double, 2> depths{depth(Direction::x), depth(Direction::y)};
    out.shear_demand = find_strip_demand(f, lay_out_strips(m, band), band.share, depths,
                                         before ? before->shear_demand.get() : nullptr, progress);
    out.demand = out.shear_demand;
    if (m.steel.designed_by == DesignedBy::points)
        out.demand = find_strip_demand(f, lay_out_points(m, width_of_points(m)), band.share, depths,
                                       before ? before->demand.get() : nullptr, progress);
    judge_strips(f, out, progress);
    append(out.checks, judge_members(f, code.get(), out, progress));
    take_quantities(f, out.steel);
    progress.end_if_stopped();
    progress.report(0.75, "punching");
    append(out.checks, judge_punching(f, out.steel, before ? before->punching_demand : nullptr, out, progress));
}

}  // namespace mossbed
