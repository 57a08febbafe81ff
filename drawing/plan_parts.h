// The parts of a plan, in the order in which they lie on each other.
#pragma once
#include "drawing/labels.h"
#include "drawing/plan.h"

namespace mossbed {

struct PlanDraft {  // what the parts share
    const PlanScene& scene;
    const Model& model;
    const View& view;
    const Box& paper;
    std::shared_ptr<const Rings> slab;
    Drawing drawing;
    Labels labels{drawing, view, paper};
    bool is_chosen(ThingKind kind, const std::string& id) const { return scene.chosen.count({kind, id}) > 0; }
};

// plan_results.cpp
void draw_map(PlanDraft& d);
void draw_lifted(PlanDraft& d);
void draw_strips(PlanDraft& d);
void draw_extra_bars(PlanDraft& d);
void draw_bars(PlanDraft& d);
void draw_tightest(PlanDraft& d);
void draw_links(PlanDraft& d);
void draw_perimeters(PlanDraft& d);
void write_uses(PlanDraft& d);
void write_use_under_pointer(const PlanScene& scene, Drawing& to);
void draw_flag_area(PlanDraft& d);
void draw_flag(PlanDraft& d);
void draw_landing(PlanDraft& d);
void draw_traced(PlanDraft& d);
// plan_things.cpp
void draw_patches(PlanDraft& d);
void write_names_of_patches(PlanDraft& d);
void draw_openings(PlanDraft& d);
void draw_mesh(PlanDraft& d);
void mark_worst_cell(PlanDraft& d);
void write_loads_along(PlanDraft& d);  // values of line loads, after all names
void draw_ribs(PlanDraft& d);
void write_names_of_ribs(PlanDraft& d);
void draw_walls(PlanDraft& d);
void draw_columns(PlanDraft& d);
void write_names_of_columns(PlanDraft& d);
void draw_boreholes(PlanDraft& d);
void draw_coming(PlanDraft& d);
// plan_loads.cpp
void draw_loads(PlanDraft& d);

}  // namespace mossbed
