#include <QPushButton>

#include "app/tray/pages.h"
#include "app/tray/parts.h"
#include "core/arrange/make.h"
#include "core/model/load_values.h"

namespace mossbed {

std::string ToolPage::key() const {
    return "tool " + std::to_string(int(kind_)) + " " + std::to_string(int(desk_->figure_of(kind_))) +
           (now().columns[0].round() ? " round" : "");
}

void ToolPage::edit(const QString&, const std::function<void(Model&)>& change) {
    change(desk_->patterns);
    desk_->tell(Desk::choice);
    refresh();
}

void ToolPage::build() {
    heading(QString(entry_of(kind_).deed).remove('&'));
    const auto& figures = figures_of(kind_);
    if (figures.size() > 1) {
        std::vector<Button> all;
        for (FigureKind f : figures)
            all.push_back({title_of(f), QString("figure-%1").arg(QString(title_of(f)).toLower()), [this, f] {
                               desk_->set_figure(kind_, f);
                               Q_EMIT tool_wanted(kind_);
                           }});
        buttons(all);
        for (FigureKind f : figures)
            if (auto* b = findChild<QPushButton*>(QString("figure-%1").arg(QString(title_of(f)).toLower())))
                b->setCheckable(true), b->setChecked(f == desk_->figure_of(kind_));
    }
    sizes();
    QString how;
    switch (desk_->figure_of(kind_)) {
        case FigureKind::point:
            how = "Click where it stands, or type “x, y” and Enter.";
            break;
        case FigureKind::rectangle:
            how = "Click one corner, then the one across; or type “x, y”, then “12 x 8” towards the pointer.";
            break;
        case FigureKind::circle:
            how = "Click the middle, then the rim; or type “x, y”, then the radius.";
            break;
        case FigureKind::ring:
            how = "Click the middle, then the outer and the inner rim; or type “x, y”, then the two radii.";
            break;
        default:
            how =
                "Click point after point; or type “x, y”, a length towards the pointer, “4.5 at 30” (degrees from x), "
                "“by 3, 2” from the last point. Enter ends it, Backspace takes a point back.";
    }
    words(how + " It snaps to what stands, and says to what; Alt lets go.");
    box_->addStretch(1);
}

LoadItem& ToolPage::load_pattern() {
    return desk_->patterns.loads.cases.at(0).items.at(kind_ == ToolKind::point_load  ? point_pattern
                                                      : kind_ == ToolKind::line_load ? line_pattern
                                                      : kind_ == ToolKind::area_load ? area_pattern
                                                                                     : member_pattern);
}

void ToolPage::sizes() {
    auto at = [](const char* list, const char* key) { return path(list, pattern, key); };
    switch (kind_) {
        case ToolKind::column:
            choice({at("columns", "shape")}, {.name = "pattern-shape"}, {}, [](Model& m) {
                for (Column& c : m.columns) c.size.resize(c.round() ? 1 : 2, c.size[0]);
            });
            field(at("columns", "size/0"), {.name = "pattern-size-x", .label = "Size along x, or diameter"});
            field(at("columns", "size/1"), {.name = "pattern-size-y", .label = "Size along y"});
            field(at("columns", "angle"), {.name = "pattern-angle"});
            field(at("columns", "pedestal_height"), {.name = "pattern-pedestal"});
            break;
        case ToolKind::wall:
            field(at("walls", "thickness"), {.name = "pattern-thickness"});
            field(at("walls", "height"), {.name = "pattern-height"});
            tick(at("walls", "stiffens"), {.name = "pattern-stiffens"});
            break;
        case ToolKind::rib:
            field(at("ribs", "width"), {.name = "pattern-width"});
            field(at("ribs", "depth"), {.name = "pattern-depth"});
            choice(at("ribs", "flush"), {.name = "pattern-flush"});
            break;
        case ToolKind::patch:
            field(at("slab/patches", "thickness"), {.name = "pattern-thickness"});
            choice(at("slab/patches", "flush"), {.name = "pattern-flush"});
            break;
        case ToolKind::ground_patch:
            field(at("ground/patches", "modulus"), {.name = "pattern-modulus"});
            words("Ground patches act in the ground model “patches”.");
            break;
        case ToolKind::strip:
            field(at("steel/strips", "reach/0"), {.name = "pattern-left", .label = "Reach to the left"});
            field(at("steel/strips", "reach/1"), {.name = "pattern-right", .label = "Reach to the right"});
            words("Two points are its axis. Strips along it give way; those laid out by the program become yours.");
            break;
        case ToolKind::extra_bars:
            choice(at("steel/extra", "face"), {.name = "pattern-face", .label = "Face"});
            choice(at("steel/extra", "direction"), {.name = "pattern-direction", .label = "Along"});
            field(at("steel/extra", "diameter"), {.name = "pattern-diameter"});
            field(at("steel/extra", "spacing"), {.name = "pattern-spacing"});
            tick(at("steel/extra", "held_at_rims"), {.name = "pattern-held", .label = "U-bars hold them at rims"});
            words("They count where they are anchored: lay them further than they are needed.");
            break;
        case ToolKind::links:
            field(at("steel/links", "diameter"), {.name = "pattern-diameter"});
            field(at("steel/links", "spacing"), {.name = "pattern-spacing"});
            words("They hold one-way shear of the strips across them; round a column give its own links.");
            break;
        case ToolKind::point_load:
        case ToolKind::line_load:
        case ToolKind::area_load:
        case ToolKind::member_load:
            words("Into case " + q(desk_->load_case) + ", the one in hand.", "tool-case");
            for (const LoadValue& v : values_of_load(load_pattern()))
                number(
                    q(v.label), v.unit, "pattern-" + q(v.key), "",
                    [this, v](const Model&) { return std::optional(v.get(load_pattern())); },
                    [this, v](Model&, double to) { v.set(load_pattern(), to); }, {-1e5, 1e5});
            break;
        default:
            break;
    }
}

}  // namespace mossbed
