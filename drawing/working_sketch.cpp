#include "drawing/working_sketch.h"

#include "drawing/plan.h"
#include "drawing/plan_parts.h"
#include "words/quantities.h"

namespace mossbed {
namespace {

class SketchDraft {
  public:
    SketchDraft(const Row& row, const Answer& answer, const Box& paper)
        : row_(row), answer_(answer), m_(*answer.model), paper_(paper) {}

    Sketch draw() {
        const PunchingAnswer* p = nullptr;
        for (const PunchingAnswer& k : answer_.punching)
            if (row_.id == "punching" && k.id == row_.item) p = &k;
        if (p && !p->loaded.empty())
            round_place(*p);
        else if (row_.at || !strips().empty())
            in_the_slab();
        return std::move(out_);
    }

  private:
    void fit(const Box& b) {
        Box paper = paper_;
        paper.low.x += 14, paper.low.y += 14, paper.high.x -= 14, paper.high.y -= 22;
        out_.view.show(b, paper);
    }
    void slab(double width) {
        out_.drawing.add(Layer::rim, closed(slab_rings(m_, out_.view), {Role::ink, width}, {Role::slab, {}, {}}));
    }
    void write(Point at, Point offset, std::string text, Tone tone = Role::ink) {
        Text t;
        t.at = at, t.offset = offset, t.text = typeset(std::move(text)), t.tone = tone, t.halo = true;
        out_.drawing.add(Layer::notes, std::move(t));
    }
    // A dimension between two points, its text beside its middle.
    void dimension(Point a, Point b, const std::string& text, Point offset) {
        out_.drawing.add(Layer::notes, open({a, b}, {Role::faint, 1}));
        for (Point p : {a, b}) out_.drawing.add(Layer::notes, stroke_at(p, {-3, -3}, {3, 3}, {Role::faint, 1}));
        write(0.5 * (a + b), offset, text, Role::faint);
    }
    // The loaded area, what of the perimeter counts, and how far that is off.
    void round_place(const PunchingAnswer& p) {
        Box b = box_of(p.loaded);
        for (Point q : p.outline) b.add(q);
        const double grow = 0.12 * std::max(b.width(), b.height());
        b.add(b.low - Point{grow, grow}), b.add(b.high + Point{grow, grow});
        fit(b);
        slab(1.2);
        for (const SlabPatch& t : m_.slab.patches)
            out_.drawing.add(Layer::patches, closed(t.outline, {Role::faint, 1, Dash::dashed}));
        for (const Opening& o : m_.slab.openings)
            out_.drawing.add(Layer::openings, closed(o.outline, {Role::ink, 1}, {Role::sheet, {}, {}}));
        if (!p.outline.empty())
            out_.drawing.add(Layer::punching, closed(p.outline, {}, {Tone(Role::moss, 30), {}, {}}));
        for (const auto& line : p.lines) out_.drawing.add(Layer::punching, open(line, {Role::moss, 1.8, Dash::dashed}));
        for (const Wall& w : m_.walls)
            for (size_t i = 0; i + 1 < w.path.size(); ++i)
                out_.drawing.add(Layer::walls, closed(body_of(w, i), {Role::ink, 0.8}, {Role::concrete, {}, {}}));
        for (const Column& other : m_.columns)
            out_.drawing.add(Layer::columns, closed(footprint(other), {Role::ink, 1}, {Role::concrete, {}, {}}));
        out_.drawing.add(Layer::punching, closed(p.loaded, {Role::ink, 0.8, Dash::dotted}));
        write(p.centre, {0, 0}, p.id);
        if (p.outline.empty()) return;
        // From the face to the line, where it runs furthest to the right of those as far off as it is meant to be.
        std::optional<std::pair<Point, Point>> way;
        for (const auto& line : p.lines)
            for (size_t i = 0; i + 1 < line.size(); ++i) {
                const Point q = 0.5 * (line[i] + line[i + 1]);
                Point face;
                double least = 1e300;
                for (size_t k = 0; k < p.loaded.size(); ++k) {
                    const Point on = nearest_on_segment(q, p.loaded[k], p.loaded[(k + 1) % p.loaded.size()]);
                    if (distance(on, q) < least) least = distance(on, q), face = on;
                }
                if (std::abs(least - p.a) < 0.01 * p.a + 1e-3 && (!way || q.x > way->second.x + 1e-6)) way = {face, q};
            }
        if (way) dimension(way->first, way->second, "a " + written(1000 * p.a, 0) + " mm", {34, -11});
        const Box far = box_of(p.outline);
        write({0.5 * (far.low.x + far.high.x), far.low.y}, {0, 11}, "u " + written(p.perimeter, 2) + " m", Role::moss);
    }
    std::vector<const StripAnswer*> strips() const {
        std::vector<const StripAnswer*> all;
        for (const StripAnswer& s : answer_.steel.strips)
            if (row_.item == s.strip.id || row_.item.rfind(s.strip.id + " ", 0) == 0) all.push_back(&s);
        return all;
    }
    void in_the_slab() {
        fit(box_of(outer_rim(m_.slab.outline, 0.5)));
        slab(1.2);
        const auto clip = rings_of(slab_rings(m_, out_.view));
        for (const StripAnswer* s : strips()) {
            out_.drawing.add(Layer::strips, closed(area_of(s->strip), {Role::moss, 1}, {Tone(Role::moss, 40), {}, {}}))
                .clip = clip;
            if (!row_.at) continue;
            const Point along = unit(s->strip.axis.back() - s->strip.axis.front()), across = left_of(along);
            const Point a = *row_.at + s->strip.reach[0] * across, b = *row_.at - s->strip.reach[1] * across;
            out_.drawing.add(Layer::notes, open({a, b}, {Role::ink, 2})).clip = clip;
        }
        for (const Column& c : m_.columns)
            out_.drawing.add(Layer::columns, closed(footprint(c), {Role::ink, 0.8}, {Role::concrete, {}, {}}));
        if (row_.at) {
            out_.drawing.add(Layer::notes, Disc{*row_.at, {}, 5, {Role::ochre, 2}, {}});
            write({0.5 * (out_.view.back(paper_.low).x + out_.view.back(paper_.high).x), out_.view.back(paper_.high).y},
                  {0, -9}, "at (" + written(row_.at->x, 2) + ", " + written(row_.at->y, 2) + ")", Role::faint);
        }
    }

    const Row& row_;
    const Answer& answer_;
    const Model& m_;
    Box paper_;
    Sketch out_;
};

}  // namespace

Sketch working_sketch(const Row& row, const Answer& answer, const Box& paper) {
    return SketchDraft(row, answer, paper).draw();
}

}  // namespace mossbed
