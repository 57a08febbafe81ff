#include "app/trail.h"

#include <QMouseEvent>
#include <QPainter>

#include "app/tray/parts.h"

namespace mossbed {

Trail::Trail(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("trail");
    setFixedHeight(48);
    setMouseTracking(true);
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & (Desk::model | Desk::answers | Desk::view | Desk::choice)) update();
    });
}

QString Trail::title(Stop s) {
    static const char* names[] = {"Ground", "Slab", "Loads", "Contact", "Shear", "Steel", "Sheets"};
    return names[int(s)];
}

QString Trail::word(Stop s) const {
    const Model& m = desk_->now();
    const Answer* a = desk_->answer().get();
    auto worst = [&](const std::string& id) -> const Row* {
        for (const Row& r : desk_->rows())
            if (r.id == id && (r.utilisation || r.status == Status::over)) return &r;
        return nullptr;
    };
    switch (s) {
        case Stop::ground:
            return m.ground.model == GroundModel::uniform ? look::number(m.ground.modulus, 0) + " kN/m³ uniform"
                   : m.ground.model == GroundModel::patches
                       ? QString("%1 patches").arg(m.ground.patches.size())
                       : QString("%1 boreholes, %2 strata").arg(m.ground.boreholes.size()).arg(m.ground.strata.size());
        case Stop::slab:
            if (!has_slab(m)) return "none yet";
            return QString("%1 m² · %2 m").arg(look::number(net_area(m), 0), look::number(m.slab.thickness, 2));
        case Stop::loads:
            return count_of(m.loads.cases.size(), "case") + QString(" · %1 comb.").arg(combinations_of(m).size());
        case Stop::contact:
            if (const Row* r = worst("bearing")) {
                const Row* c = worst("contact");
                if (m.ground.model != GroundModel::coupled &&
                    a)  // a largest pressure at the yield says nothing by itself
                    if (const CombinationAnswer* k = a->find(r->combination); k && k->yield_ratio > 0)
                        return QString("%1 / %2 kPa · yields")
                            .arg(look::number(*r->value, 0), look::number(*r->limit, 0));
                return QString("%1 / %2 kPa").arg(look::number(*r->value, 0), look::number(*r->limit, 0)) +
                       (c && c->value ? QString(" · %1 %").arg(look::number(100 * *c->value, 0)) : "");
            }
            return a ? "not checked" : "–";
        case Stop::shear:
            if (const Row* r = worst("punching"))
                return short_name_of_group(r->item) + " " + look::number(*r->utilisation, 2);
            return !a ? "–" : a->coarse ? "…" : "not checked";
        case Stop::steel:
            if (a && !a->coarse && a->steel.concrete_m3 > 0)  // all bars, laps and all, as the Steel page has it
                if (const double kg = desk_->bars().kg(); kg > 0)
                    return look::number(kg / a->steel.concrete_m3, 0) + " kg/m³";
            return a ? "…" : "–";
        case Stop::sheets:
            return "not built yet";
    }
    return "";
}

QRect Trail::place(int i) const {
    const int w = std::min(148, (width() - 8) / 7);
    return {4 + i * w, 3, w - 6, height() - 6};
}

void Trail::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), look::sheet);
    p.setRenderHint(QPainter::Antialiasing);
    const QPoint mouse = mapFromGlobal(QCursor::pos());
    for (int i = 0; i < 7; ++i) {
        const QRect r = place(i);
        const bool here = int(desk_->stop) == i;
        if (here) {
            p.fillRect(r, look::moss_wash);
            p.fillRect(QRect(r.left(), r.bottom() - 2, r.width(), 3), look::moss);
        } else if (r.contains(mouse)) {
            p.fillRect(r, look::panel);
        }
        if (i > 0) {
            p.setPen(QPen(look::line, 1.2));
            const int x = r.left() - 6, y = r.center().y();
            p.drawLine(x, y - 4, x + 3, y);
            p.drawLine(x + 3, y, x, y + 4);
        }
        p.setFont(look::font(look::Size::normal, here));
        p.setPen(look::ink);
        p.drawText(r.adjusted(8, 3, -2, 0), Qt::AlignLeft | Qt::AlignTop, title(Stop(i)));
        p.setFont(look::font(look::Size::small));
        // What an answer of before an edit says; the model's own words stay.
        p.setPen(desk_->is_old() && Stop(i) >= Stop::contact ? look::standard : look::faint);
        const QString w = p.fontMetrics().elidedText(word(Stop(i)), Qt::ElideRight, r.width() - 10);
        p.drawText(r.adjusted(8, 0, -2, -5), Qt::AlignLeft | Qt::AlignBottom, w);
    }
    p.setPen(look::line);
    p.drawLine(0, height() - 1, width(), height() - 1);
}

void Trail::mousePressEvent(QMouseEvent* e) {
    for (int i = 0; i < 7; ++i)
        if (place(i).contains(e->pos())) desk_->go_to(Stop(i));
}

void Trail::mouseMoveEvent(QMouseEvent*) { update(); }

}  // namespace mossbed
