#include "core/exchange/take_drawing.h"

#include <algorithm>

#include "core/exchange/thing_data.h"
#include "core/model/edit.h"

namespace mossbed {
namespace {

constexpr double same_place = 1.5e-3;  // m

bool same_point(Point a, Point b) { return distance(a, b) < same_place; }
bool same_path(const std::vector<Point>& a, const std::vector<Point>& b) {
    if (a.size() != b.size()) return false;
    return std::equal(a.begin(), a.end(), b.begin(), same_point) ||
           std::equal(a.begin(), a.end(), b.rbegin(), same_point);
}
// Corner by corner, from wherever it begins and whichever way it runs.
bool same_ring(Polygon a, Polygon b) {
    if (a.size() != b.size()) return false;
    a = anticlockwise(std::move(a)), b = anticlockwise(std::move(b));
    for (size_t from = 0; from < a.size(); ++from) {
        bool same = true;
        for (size_t k = 0; k < a.size() && same; ++k) same = same_point(a[(from + k) % a.size()], b[k]);
        if (same) return true;
    }
    return false;
}

bool same(const Opening& a, const Opening& b) { return same_ring(a.outline, b.outline); }
bool same(const SlabPatch& a, const SlabPatch& b) { return same_ring(a.outline, b.outline); }
bool same(const GroundPatch& a, const GroundPatch& b) { return same_ring(a.outline, b.outline); }
bool same(const Column& a, const Column& b) { return same_point(a.at, b.at); }
bool same(const Pile& a, const Pile& b) { return same_point(a.at, b.at); }
bool same(const Wall& a, const Wall& b) { return same_path(a.path, b.path); }
bool same(const Rib& a, const Rib& b) { return same_path(a.path, b.path); }
bool same(const SettingOutLine& a, const SettingOutLine& b) { return same_path(a.path, b.path); }

class Taker {
  public:
    Taker(const Model& model, const DrawnPlan& plan) : plan_(plan) { out_.model = model; }
    TakenDrawing take() {
        Model& m = out_.model;
        if (plan_.outline) {
            const auto* ring = std::get_if<Polygon>(&m.slab.outline);
            if (ring && ring->empty()) set_data(m.slab, plan_.slab_data);  // a slab that stands keeps its thickness
            m.slab.outline = *plan_.outline;
            out_.outline = true;
        }
        all(m.slab.openings, plan_.openings, "opening");
        all(m.slab.patches, plan_.patches, "patch");
        all(m.columns, plan_.columns, "column");
        all(m.walls, plan_.walls, "wall");
        all(m.ribs, plan_.ribs, "rib");
        all(m.piles, plan_.piles, "pile");
        all(m.setting_out, plan_.lines, "line");
        all(m.ground.patches, plan_.ground, "ground patch");
        return std::move(out_);
    }

  private:
    template <class T>
    void all(std::vector<T>& list, const std::vector<T>& drawn, const std::string& kind) {
        if (drawn.empty()) return;
        const size_t before = list.size();
        std::vector<char> found(before, 0);
        for (const T& d : drawn) {
            size_t k = 0;
            while (k < before && (found[k] || !same(list[k], d))) ++k;
            if (k < before) {
                found[k] = 1;
                if constexpr (std::is_same_v<T, Column>)
                    list[k].shape = d.shape, list[k].size = d.size, list[k].angle = d.angle;
                out_.kept.push_back(kind + " " + list[k].id);
                continue;
            }
            T fresh = d;
            auto taken = [&] {
                return std::any_of(list.begin(), list.end(), [&](const T& t) { return t.id == fresh.id; });
            };
            for (int n = 1; taken(); ++n) fresh.id = stem_of(d.id) + std::to_string(n);
            out_.added.push_back(kind + " " + fresh.id);
            list.push_back(std::move(fresh));
        }
        for (size_t k = 0; k < before; ++k)
            if (!found[k]) out_.missing.push_back(kind + " " + list[k].id);
    }
    const DrawnPlan& plan_;
    TakenDrawing out_;
};

}  // namespace

TakenDrawing take_drawing(const Model& model, const DrawnPlan& plan) { return Taker(model, plan).take(); }

}  // namespace mossbed
