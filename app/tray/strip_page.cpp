// Strips: one of the model's own in hand, and where all of them come from.
#include "app/tray/pages.h"
#include "app/tray/parts.h"
#include "core/arrange/edit_strips.h"

namespace mossbed {

void StripPage::build() {
    const Strip* s = now().steel.strips ? find_id(*now().steel.strips, id_) : nullptr;
    heading("Strip " + q(id_), s ? QString("along %1").arg(name_of(s->direction)) : QString());
    name_of_one({ThingKind::strip, id_});
    result([this] { return uses(); }, "strip-uses");
    field(path("steel/strips", id_, "reach/0"),
          {.name = "strip-left", .label = "Reach to the left", .deed = "Widen a strip"});
    field(path("steel/strips", id_, "reach/1"),
          {.name = "strip-right", .label = "Reach to the right", .deed = "Widen a strip"});
    ends();
    auto reshape = [this](const QString& deed, const std::function<std::string(Model&)>& change) {
        Model m = now();
        const std::string why = change(m);
        if (!why.empty()) return refuse(QString("Strip %1 %2.").arg(q(id_), q(why)));
        desk_->document()->apply(deed, std::move(m));
    };
    buttons({{"Split along", "split-along",
              [this, reshape] {
                  reshape("Split a strip", [this](Model& m) {
                      const Strip* t = find_id(*m.steel.strips, id_);
                      return split_strip_along(m, id_, t ? 0.5 * (t->reach[0] - t->reach[1]) : 0);
                  });
              }},
             {"Split at the cut", "split-across", [this, reshape] {
                  reshape("Split a strip", [this](Model& m) -> std::string {
                      const Strip* t = find_id(*m.steel.strips, id_);
                      if (!t) return "is gone";
                      const auto at = segment_crossing(t->axis[0], t->axis[1], desk_->cut[0], desk_->cut[1]);
                      if (!at) return "is not crossed by the cut: lay the cut across it where it is to be split";
                      return split_strip_across(m, id_, distance(t->axis[0], *at));
                  });
              }}});
    buttons({{"Join to the left", "join-left",
              [this, reshape] {
                  reshape("Join two strips", [this](Model& m) { return join_strip(m, id_, StripSide::left); });
              }},
             {"Join to the right", "join-right", [this, reshape] {
                  reshape("Join two strips", [this](Model& m) { return join_strip(m, id_, StripSide::right); });
              }}});
    arranging({{ThingKind::strip, id_}});
    box_->addStretch(1);
}

// The worst of each check on it.
QString StripPage::uses() const {
    QString t = "<table cellspacing='0' cellpadding='1'>";
    for (const Row& r : desk_->rows())
        if ((r.item == id_ || r.item == id_ + " bottom" || r.item == id_ + " top") && r.utilisation) {
            const QString use = look::number(*r.utilisation, 2);
            const QString face = r.item.size() > id_.size() ? q(r.item.substr(id_.size() + 1)) : QString();
            const QString what = r.id == "bending"         ? face
                                 : r.id == "minimum-steel" ? "minimum " + face
                                 : r.id == "spacing"       ? "spacing " + face
                                                           : "shear";
            t += "<tr><td style='padding-right:14px'>" + what + "</td><td align='right' style='padding-right:14px'>" +
                 (r.status == Status::over ? bold(use) : use) + "</td><td>" + q(r.combination) + "</td></tr>";
        }
    return t + "</table>";
}

void StripPage::ends() {
    for (size_t end : {size_t(0), size_t(1)})
        for (double Point::*along : {&Point::x, &Point::y}) {
            const QString axis = along == &Point::x ? "x" : "y";
            number(
                QString("%1 of its %2").arg(axis, end == 0 ? "beginning" : "end"), Unit::metre,
                QString("strip-end-%1-%2").arg(end).arg(axis), "Move a strip's end",
                [this, end, along](const Model& m) -> std::optional<double> {
                    const Strip* s = m.steel.strips ? find_id(*m.steel.strips, id_) : nullptr;
                    return s ? std::optional(s->axis[end].*along) : std::nullopt;
                },
                [this, end, along](Model& m, double v) {
                    if (Strip* s = m.steel.strips ? find_id(*m.steel.strips, id_) : nullptr) s->axis[end].*along = v;
                });
        }
}

void SteelPage::strips() {
    heading("Strips");
    live(
        [this] {
            const auto& own = now().steel.strips;
            if (own) return QString("%1 of your own; a click on the plan takes one").arg(own->size());
            return QString("%1, laid out from the columns").arg(desk_->strips_laid().size());
        },
        "strips-facts");
    buttons({{"Make them mine", "own-strips",
              [this] {
                  if (now().steel.strips) return desk_->say("They are yours already.");
                  edit("Make the strips mine", [this](Model& m) { own_strips(m, desk_->strips_laid()); });
              }},
             {"Lay them out anew", "lay-strips", [this] {
                  if (!now().steel.strips) return desk_->say("They are laid out from the columns already.");
                  edit("Lay strips out anew", [](Model& m) { m.steel.strips.reset(); });
              }}});
    button("Draw a strip", "draw-strip", [this] { Q_EMIT tool_wanted(ToolKind::strip); });
}

}  // namespace mossbed
