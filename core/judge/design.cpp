#include "core/judge/design.h"

#include <fmt/format.h>

#include "core/base/both.h"
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

// Bars along strips: those the engineer gives and, where they can be designed, the least that does in place of the
// rest.
struct StripDesign {
    StripDesign(const Fields& f, const DesignCode* by, const StripDemand& d, const StripDemand& s)
        : fields(f),
          code(by),
          demand(d),
          for_shear(s),
          why_not(why_no_design(*f.model, by, d)),
          steel(*f.model, by, stated_bars(*f.model)) {
        if (why_not.empty() || !d.combinations.empty()) strips.emplace(d, steel, *f.model);
        if (why_not.empty()) choose_base_bars(steel, *f.model, *by, d, *strips);
    }
    const Fields& fields;
    const DesignCode* code;
    const StripDemand &demand, &for_shear;
    std::string why_not;
    Provision steel;
    std::optional<StripProvision> strips;
};

std::vector<Row> judge_strips(const StripDesign& s, SteelAnswer& out, const Progress& progress) {
    const Model& m = *s.fields.model;
    std::vector<Row> rows = look_at_strips(m, s.demand, s.for_shear, stated_bars(m), s.code);
    out.strips = s.demand.strips;
    if (!s.why_not.empty()) {
        append(rows, open_rows(s.why_not));
        if (!s.strips) return rows;
        std::optional<RequiredSteel> needs;  // moments and shears need no code
        if (s.code && !covers_leave_no_depth(m)) needs.emplace(m, *s.code, s.demand, s.steel);
        out.strips = record_sections(s.fields, s.demand, *s.strips, needs ? &*needs : nullptr);
        return rows;
    }
    const std::vector<JudgedMat> mats = mats_by_strip(s.fields, s.demand);
    const StripJudge j{s.fields, m, *s.code, s.demand, s.steel, *s.strips, mats, progress};
    const RequiredSteel needs = j.needs();
    out.strips = record_sections(s.fields, s.demand, *s.strips, &needs);
    for (auto* judge : {judge_bending, judge_minimum_steel, judge_spacing, judge_anchorage}) {
        progress.end_if_stopped();
        append(rows, judge(j));
    }
    progress.end_if_stopped();
    if (&s.for_shear == &s.demand) {
        append(rows, judge_one_way_shear(j));
    } else {
        const StripProvision for_shear(s.for_shear, s.steel, m);
        append(rows, judge_one_way_shear({s.fields, m, *s.code, s.for_shear, s.steel, for_shear, mats, progress}));
    }
    return rows;
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
    progress.end_if_stopped();
    const StripDesign design(f, code.get(), *out.demand, *out.shear_demand);
    static_cast<BaseBars&>(out.steel) = design.steel.bars();
    progress.end_if_stopped();
    progress.report(0.75, "punching");
    // All that follows knows the bars, and strips and punching nothing of each other.
    std::vector<Row> of_punching;
    both(
        [&] {
            of_punching =
                judge_punching(f, design.steel.bars(), before ? before->punching_demand : nullptr, out, progress);
        },
        [&] {
            append(out.checks, judge_strips(design, out.steel, progress));
            append(out.checks, judge_members(f, code.get(), out, progress));
            take_quantities(f, out.steel);
        });
    append(out.checks, std::move(of_punching));
}

}  // namespace mossbed
