#include "core/answer/punching_mends.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/polygons.h"
#include "core/codes/materials.h"

namespace mossbed {
namespace {

const PunchingAnswer* find(const Answer& a, const std::string& item) {
    for (const PunchingAnswer& p : a.punching)
        if (p.id == item) return &p;
    return nullptr;
}

class Mending {
  public:
    Mending(const Model& m, const std::string& item, const Answer* previous,
            const std::function<void(const PunchingMend&)>& told, const Progress& progress)
        : m_(m), item_(item), told_(told), progress_(progress) {
        const auto now = solve(m, {}, previous, progress);
        const PunchingAnswer* p = find(*now, item);
        if (!p)
            throw Trouble({"punching of " + item + " is not worked out, so nothing can be tried",
                           item,
                           "see why in its row",
                           Severity::error,
                           {}});
        last_ = now;
        at_ = p->centre, loaded_ = p->loaded, d_ = p->d, over_ = p->utilisation > 1;
        for (const Column& c : m.columns)
            if (const std::string joined = "+" + item + "+"; joined.find("+" + c.id + "+") != std::string::npos)
                columns_.push_back(c.id);
        // The combinations that come near to governing are tried; all of them once at the end.
        const auto listed = as_listed(now->combinations);
        for (size_t k = 0; k < listed.size() && k < p->uses.size(); ++k)
            if (p->uses[k] >= 0.85 * p->utilisation) few_.combinations.push_back(listed[k].combination.id);
    }

    std::vector<PunchingMend> all() {
        thickness();
        patch();
        concrete();
        footprint();
        links();
        return std::move(found_);
    }

  private:
    using Vary = std::function<std::optional<Model>(double size)>;  // none: it cannot be made

    std::optional<double> use(const Model& m, const SolveOptions& options) {
        try {
            last_ = solve(m, options, last_.get(), progress_);
        } catch (const Trouble&) {
            return {};
        }
        const PunchingAnswer* p = find(*last_, item_);
        if (!p || std::isnan(p->utilisation)) return {};
        return p->utilisation;
    }
    // The least of a range that passes by the few and by all combinations.
    std::optional<double> seek(PunchingMend& mend, std::string of_what, SeekRange range, const Vary& vary) {
        PunchingMend::Series& series = mend.series.emplace_back();
        series.of = std::move(of_what);
        auto of = [&](double size, const SolveOptions& options) -> std::optional<double> {
            const auto m = vary(size);
            return m ? use(*m, options) : std::nullopt;
        };
        for (int round = 0; round < 4; ++round) {
            const Sought s = least_that_passes(
                range, [&](double size) { return of(size, few_); }, progress_);
            series.tries.insert(series.tries.end(), s.tries.begin(), s.tries.end());
            if (!s.size) return {};
            if (const auto u = of(*s.size, {}); u && *u <= 1 + 1e-9) {
                mend.use = *u, mend.model = std::make_shared<const Model>(*vary(*s.size));
                return s.size;
            }
            range.least = *s.size + range.step;  // another combination governs there
        }
        return {};
    }
    void tell(PunchingMend mend) {
        if (told_) told_(mend);
        found_.push_back(std::move(mend));
    }

    void thickness() {
        PunchingMend mend{PunchingMend::Kind::thickness, "", "", 0, {}, nullptr};
        const double h = thickness_at(m_, at_), first = m_.slab.thickness;
        const auto size = seek(mend, "thickness, m",
                               {round_up(over_ ? first + 0.01 : std::max(0.1, 0.4 * first), 0.02), first + 3, 0.02},
                               [&](double t) -> std::optional<Model> {
                                   Model m = m_;
                                   m.slab.thickness = t;
                                   return m;
                               });
        if (size)
            mend.what = fmt::format("slab {:.2f} m", *size);
        else
            mend.why_not = h > first ? "a thicker slab does not mend it within 3 m: it stands on a patch"
                                     : "no slab within 3 m more passes";
        tell(std::move(mend));
    }
    static double round_up(double v, double step) { return step * std::ceil(v / step - 1e-9); }

    // A square patch, first as deep as it must be, then as small as it may.
    void patch() {
        PunchingMend mend{PunchingMend::Kind::patch, "", "", 0, {}, nullptr};
        const double h = m_.slab.thickness;
        const Box b = box_of(loaded_);
        const double c = std::max(b.width(), b.height());
        if (std::any_of(m_.slab.patches.begin(), m_.slab.patches.end(),
                        [&](const SlabPatch& t) { return touch(t.outline, loaded_); })) {
            mend.why_not = "it stands on a patch already: make that one thicker";
            return tell(std::move(mend));
        }
        const Polygon rim = outer_rim(m_.slab.outline, 0.1);
        auto with = [&](double side, double t) -> std::optional<Model> {
            const Polygon square = rectangle(at_, side, side);
            Polygon outline = square;
            if (!lies_within(square, rim)) {
                if (!is_convex(rim)) return {};
                outline = clip_to_convex(square, rim);
            }
            for (const SlabPatch& o : m_.slab.patches)
                if (touch(o.outline, outline)) return {};
            for (const Opening& o : m_.slab.openings)
                if (touch(o.outline, outline)) return {};
            std::vector<std::string> taken;
            for (const SlabPatch& o : m_.slab.patches) taken.push_back(o.id);
            Model m = m_;
            SlabPatch p;
            p.id = fresh_id("T", taken), p.outline = outline, p.thickness = t, p.flush = Flush::top;
            m.slab.patches.push_back(std::move(p));
            return m;
        };
        const double wide = round_up(c + 6 * h, 0.1);
        const auto deep = seek(mend, "thickness, m", {round_up(h + 0.05, 0.05), h + 2, 0.05},
                               [&](double t) { return with(wide, t); });
        if (!deep) {
            mend.model.reset();
            mend.why_not = with(wide, h + 0.1) ? fmt::format("no patch of {:.1f} m passes", wide)
                                               : "there is no room for one: openings, patches or a re-entrant rim";
            return tell(std::move(mend));
        }
        const auto side = seek(mend, "side, m", {round_up(c + 0.2, 0.1), wide, 0.1},
                               [&](double s) { return with(s, *deep); });
        mend.what = fmt::format("patch {0:.1f} × {0:.1f} m, {1:.2f} m thick", side.value_or(wide), *deep);
        tell(std::move(mend));
    }

    void concrete() {
        PunchingMend mend{PunchingMend::Kind::concrete, "", "", 0, {}, nullptr};
        const auto code = make_code(m_.settings);
        std::vector<Concrete> classes = code ? code->concrete_classes() : std::vector<Concrete>{};
        std::sort(classes.begin(), classes.end(), [](const auto& a, const auto& b) { return a.fck < b.fck; });
        if (const double fck = concrete_of(m_, m_.slab.concrete).fck; over_)
            std::erase_if(classes, [&](const Concrete& c) { return c.fck <= fck; });
        const auto size =
            seek(mend, "f_ck, MPa", {0, double(classes.size()) - 1, 1}, [&](double k) -> std::optional<Model> {
                Model m = m_;
                choose_concrete(m, m.slab.concrete, classes[size_t(std::lround(k))]);
                return m;
            });
        for (Try& t : mend.series[0].tries) t.size = classes[size_t(std::lround(t.size))].fck;
        if (size)
            mend.what = classes[size_t(std::lround(*size))].id;
        else
            mend.why_not = "no class of concrete passes";
        tell(std::move(mend));
    }

    void footprint() {
        PunchingMend mend{PunchingMend::Kind::footprint, "", "", 0, {}, nullptr};
        if (columns_.size() != 1) {
            mend.why_not = columns_.empty() ? "" : "it is more than one column";
            return columns_.empty() ? void() : tell(std::move(mend));
        }
        const Column& c = *find_id(m_.columns, columns_[0]);
        const double first = *std::min_element(c.size.begin(), c.size.end());
        auto with = [&](double s) -> std::optional<Model> {
            Model m = m_;
            for (double& side : find_id(m.columns, c.id)->size) side += s - first;
            return m;
        };
        const auto size =
            seek(mend, "smaller side, m",
                 {round_up(over_ ? first + 0.01 : std::max(0.2, 0.5 * first), 0.05), first + 2, 0.05}, with);
        if (!size)
            mend.why_not = "no column within 2 m more passes";
        else if (c.round())
            mend.what = fmt::format("column ⌀ {:.2f} m", *size);
        else
            mend.what = fmt::format("column {:.2f} × {:.2f} m", c.size[0] + *size - first, c.size[1] + *size - first);
        tell(std::move(mend));
    }

    // Perimeters of legs half of d apart: the thinnest bar with which some pass, then as few perimeters, then as few
    // legs of each.
    void links() {
        PunchingMend mend{PunchingMend::Kind::links, "", "", 0, {}, nullptr};
        if (columns_.size() != 1) {
            mend.why_not = columns_.empty() ? "" : "links go round single columns";
            return columns_.empty() ? void() : tell(std::move(mend));
        }
        const Column& c = *find_id(m_.columns, columns_[0]);
        if (!over_ && !c.links.stated()) {
            mend.why_not = "it passes without";
            return tell(std::move(mend));
        }
        if (c.links.stated()) {
            Model bare = m_;
            find_id(bare.columns, c.id)->links = {};
            if (const auto u = use(bare, {}); u && *u <= 1 + 1e-9) {
                mend.what = "no links", mend.use = *u, mend.model = std::make_shared<const Model>(std::move(bare));
                return tell(std::move(mend));
            }
        }
        constexpr double most_legs = 48, most_perimeters = 10, grid = 25;  // mm
        const double spacing = std::max(2 * grid, grid * std::floor(500 * d_ / grid));
        auto with = [&](double diameter, double perimeters, double legs) {
            Model m = m_;
            PunchingLinks& l = find_id(m.columns, c.id)->links;
            l.diameter = diameter, l.perimeters = perimeters, l.legs = legs, l.spacing = spacing, l.first.reset();
            return m;
        };
        std::vector<double> sizes;
        for (double s : m_.steel.sizes)
            if (s >= 8 && s <= 20) sizes.push_back(s);
        std::sort(sizes.begin(), sizes.end());
        PunchingMend::Series& bars = mend.series.emplace_back();
        bars.of = "diameter, mm";
        double diameter = 0;
        for (double s : sizes) {
            bars.tries.push_back({s, use(with(s, most_perimeters, most_legs), few_)});
            if (bars.tries.back().passes()) {
                diameter = s;
                break;
            }
        }
        std::optional<double> perimeters, legs;
        if (diameter > 0)
            perimeters = seek(mend, "perimeters", {2, most_perimeters, 1},
                              [&](double n) { return std::optional(with(diameter, n, most_legs)); });
        if (perimeters)
            legs = seek(mend, "legs", {4, most_legs, 2},
                        [&](double n) { return std::optional(with(diameter, *perimeters, n)); });
        if (legs)
            mend.what = fmt::format("links ϕ{:g}: {:g} × {:g} legs at {:g} mm", diameter, *perimeters,
                                    *legs, spacing);
        else
            mend.model.reset(),
                mend.why_not = sizes.empty() ? "no bar size of 8 to 20 mm to make them of"
                                             : "no links pass: they may lift the strength no further, or it is the "
                                               "stress at the face";
        tell(std::move(mend));
    }

    const Model& m_;
    std::string item_;
    const std::function<void(const PunchingMend&)>& told_;
    Progress progress_;
    std::shared_ptr<const Answer> last_;
    SolveOptions few_;
    Point at_;
    Polygon loaded_;
    double d_ = 0;       // m
    bool over_ = false;  // then nothing smaller than what is there is tried
    std::vector<std::string> columns_;
    std::vector<PunchingMend> found_;
};

}  // namespace

const char* name_of(PunchingMend::Kind kind) {
    switch (kind) {
        case PunchingMend::Kind::thickness:
            return "thickness";
        case PunchingMend::Kind::patch:
            return "patch";
        case PunchingMend::Kind::concrete:
            return "concrete";
        case PunchingMend::Kind::links:
            return "links";
        default:
            return "footprint";
    }
}

std::vector<PunchingMend> punching_mends(const Model& m, const std::string& item, const Answer* previous,
                                         const std::function<void(const PunchingMend&)>& told,
                                         const Progress& progress) {
    return Mending(m, item, previous, told, progress).all();
}

}  // namespace mossbed
