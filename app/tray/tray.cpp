#include "app/tray/tray.h"

#include <QComboBox>
#include <QScrollBar>
#include <QSlider>

#include "app/tray/pages.h"

namespace mossbed {

std::unique_ptr<Page> page_for(Desk* desk) {
    const Model& m = desk->now();
    if (desk->stop == Stop::ground && desk->taking) return std::make_unique<ReportPage>(desk);
    if (desk->stop == Stop::slab && desk->taking_table) return std::make_unique<TablePage>(desk);
    if (desk->stop == Stop::slab && desk->taking_drawing) return std::make_unique<DrawingPage>(desk);
    if (const Thing* hole = only_one(desk->chosen, ThingKind::borehole))
        return std::make_unique<BoreholePage>(desk, hole->id);
    if (desk->tool != ToolKind::choose && desk->chosen.empty()) return std::make_unique<ToolPage>(desk, desk->tool);
    if (!has_slab(m) && desk->stop != Stop::ground) return std::make_unique<BeginningsPage>(desk);
    if (const std::string item = desk->punched();
        !item.empty() && std::any_of(desk->rows().begin(), desk->rows().end(),
                                     [&](const Row& r) { return r.id == "punching" && r.item == item; }))
        return std::make_unique<PunchingPage>(desk, item);
    if (auto columns = ids_of(desk->chosen, ThingKind::column); !columns.empty())
        return std::make_unique<ColumnsPage>(desk, std::move(columns));
    if (const Thing* strip = only_one(desk->chosen, ThingKind::strip); strip && is_there(m, *strip))
        return std::make_unique<StripPage>(desk, strip->id);
    std::set<int> sides;
    for (const Thing& t : desk->chosen)
        if (t.kind == ThingKind::slab_side) sides.insert(t.part);
    if (!sides.empty() && sides.size() == desk->chosen.size()) return std::make_unique<RimPage>(desk, std::move(sides));
    Things loads = desk->chosen;
    std::erase_if(loads, [](const Thing& t) { return t.kind != ThingKind::load; });
    if (!loads.empty()) return std::make_unique<LoadItemPage>(desk, std::move(loads));
    Things things = desk->chosen;
    std::erase_if(things, [](const Thing& t) {
        return t.kind != ThingKind::wall && t.kind != ThingKind::rib && t.kind != ThingKind::patch &&
               t.kind != ThingKind::opening && t.kind != ThingKind::ground_patch && t.kind != ThingKind::extra_bars &&
               t.kind != ThingKind::links && t.kind != ThingKind::setting_out;
    });
    if (!things.empty()) return std::make_unique<ThingsPage>(desk, std::move(things));
    switch (desk->stop) {
        case Stop::ground:
            return std::make_unique<GroundPage>(desk);
        case Stop::slab:
            return std::make_unique<SlabPage>(desk);
        case Stop::loads:
            if (desk->combining) return std::make_unique<CombinationPage>(desk);
            return std::make_unique<LoadsPage>(desk);
        case Stop::contact:
            return std::make_unique<ContactPage>(desk);
        case Stop::shear:
            return std::make_unique<ShearPage>(desk);
        case Stop::steel:
            return std::make_unique<SteelPage>(desk);
        case Stop::sheets:
            return std::make_unique<SheetsPage>(desk);
    }
    return std::make_unique<SheetsPage>(desk);
}

Tray::Tray(Desk* desk, QWidget* parent) : QScrollArea(parent), desk_(desk) {
    setObjectName("tray");
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & (Desk::model | Desk::answers | Desk::view | Desk::choice)) turn_to_page();
        if (what & (Desk::model | Desk::answers | Desk::view)) page_->refresh();
    });
    turn_to_page();
}

int Tray::wanted_height() const {
    const int w = std::max(viewport()->width(), 200);
    return page_->hasHeightForWidth() ? page_->heightForWidth(w) : page_->sizeHint().height();
}

// The wheel scrolls the page; over a choice or a slider it must not edit the model.
bool Tray::eventFilter(QObject* of, QEvent* e) {
    const bool is_edited_by_it = qobject_cast<QComboBox*>(of) || qobject_cast<QSlider*>(of);
    if (e->type() != QEvent::Wheel || !is_edited_by_it) return QScrollArea::eventFilter(of, e);
    QCoreApplication::sendEvent(verticalScrollBar(), e);
    return true;
}

void Tray::show_field(const std::string& path) {
    for (QWidget* w : page_->findChildren<QWidget*>()) {
        if (w->property("path").toString().toStdString() != path) continue;
        page_->adjustSize();
        auto* f = qobject_cast<Field*>(w);
        ensureWidgetVisible(w, 20, 60);
        return f ? f->line()->setFocus() : w->setFocus();
    }
}

void Tray::turn_to_page() {
    std::unique_ptr<Page> next = page_for(desk_);
    std::string key = next->key();
    if (page_ && key == built_for_) return;
    // A page of the same sort keeps scroll and focus: an edit must not throw the reader about.
    const auto sort = [](const std::string& k) { return k.substr(0, k.find(' ')); };
    const bool goes_on = page_ && sort(key) == sort(built_for_);
    const int scroll = goes_on ? verticalScrollBar()->value() : 0;
    QWidget* held = goes_on ? page_->focusWidget() : nullptr;
    const QString in_hand = held ? held->objectName() : QString();
    built_for_ = std::move(key);
    page_ = next.release();
    page_->build();
    for (QWidget* w : page_->findChildren<QWidget*>())
        if (qobject_cast<QComboBox*>(w) || qobject_cast<QSlider*>(w)) w->installEventFilter(this);
    connect(page_, &Page::tool_wanted, this, &Tray::tool_wanted);
    connect(page_, &Page::example_wanted, this, &Tray::example_wanted);
    connect(page_, &Page::working_wanted, this, &Tray::working_wanted);
    connect(page_, &Page::table_wanted, this, &Tray::table_wanted);
    connect(page_, &Page::combinations_wanted, this, &Tray::combinations_wanted);
    connect(page_, &Page::punching_wanted, this, &Tray::punching_wanted);
    // The one before may be in the middle of the click that turned the page.
    if (QWidget* before = takeWidget()) before->deleteLater();
    setWidget(page_);
    page_->refresh();
    Q_EMIT page_turned();
    if (!goes_on) return;
    if (auto* again = in_hand.isEmpty() ? nullptr : page_->findChild<QWidget*>(in_hand)) again->setFocus();
    page_->adjustSize();
    verticalScrollBar()->setValue(scroll);
}

}  // namespace mossbed
