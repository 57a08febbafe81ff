#include "app/lower_pane.h"

#include <QHBoxLayout>

#include "app/tray/parts.h"

namespace mossbed {

std::vector<TableKind> tables_at(Stop stop) {
    if (stop == Stop::loads) return {TableKind::columns, TableKind::load_sheet, TableKind::loads, TableKind::rules};
    if (stop == Stop::ground)
        return {TableKind::boreholes, TableKind::layers, TableKind::strata, TableKind::ground_patches};
    if (stop == Stop::slab)
        return {TableKind::columns, TableKind::walls,    TableKind::ribs,
                TableKind::patches, TableKind::openings, TableKind::setting_out};
    return {TableKind::columns};
}

const std::vector<TableKind>& all_tables() {
    static const std::vector<TableKind> all{
        TableKind::columns,     TableKind::walls,     TableKind::ribs,   TableKind::patches, TableKind::openings,
        TableKind::setting_out, TableKind::boreholes, TableKind::layers, TableKind::strata,  TableKind::ground_patches,
        TableKind::load_sheet,  TableKind::loads,     TableKind::rules};
    return all;
}

QToolButton* LowerPane::add_button(const QString& text, const QString& name) {
    auto* b = new QToolButton;
    b->setText(text);
    b->setObjectName(name);
    b->setProperty("quiet", true);
    b->setFocusPolicy(Qt::TabFocus);
    return b;
}

LowerPane::LowerPane(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk), cut_(new CutView(desk)) {
    setObjectName("lower-pane");
    // Tabs, and what can be done; in two lines where one is too short for both.
    head_ = new QWidget;
    head_->setMinimumWidth(1);  // no tab makes the window wider
    auto* lines = new QVBoxLayout(head_);
    lines->setContentsMargins(10, 3, 10, 1);
    lines->setSpacing(1);
    tabs_row_ = new QHBoxLayout;
    deeds_row_ = new QHBoxLayout;
    lines->addLayout(tabs_row_);
    lines->addLayout(deeds_row_);
    QHBoxLayout* head = tabs_row_;
    head->setSpacing(4);
    cut_tab_ = add_button("Cut A – A′", "pane-cut");
    cut_tab_->setCheckable(true);
    connect(cut_tab_, &QToolButton::clicked, this, &LowerPane::show_cut);
    head->addWidget(cut_tab_);
    for (TableKind k : all_tables()) {
        auto* b = add_button(title_of(k), QString("pane-%1").arg(q(title_of(k)).toLower().replace(' ', '-')));
        b->setCheckable(true);
        connect(b, &QToolButton::clicked, this, [this, k] { show_table(k); });
        tabs_[k] = b;
        head->addWidget(b);
    }
    combinations_tab_ = add_button("Combinations", "pane-combinations");
    combinations_tab_->setCheckable(true);
    connect(combinations_tab_, &QToolButton::clicked, this, &LowerPane::show_combinations);
    head->addWidget(combinations_tab_);
    curve_tab_ = add_button("Curve", "pane-curve");
    curve_tab_->setCheckable(true);
    curve_tab_->setToolTip("load against settlement, of the combination looked at");
    connect(curve_tab_, &QToolButton::clicked, this, &LowerPane::show_curve);
    head->addWidget(curve_tab_);
    punching_tab_ = add_button("Punching", "pane-punching");
    punching_tab_->setCheckable(true);
    connect(punching_tab_, &QToolButton::clicked, this, &LowerPane::show_punching);
    head->addWidget(punching_tab_);
    strip_tab_ = add_button("Strip", "pane-strip");
    strip_tab_->setCheckable(true);
    connect(strip_tab_, &QToolButton::clicked, this, &LowerPane::show_strip);
    head->addWidget(strip_tab_);
    bars_tab_ = add_button("Bars", "pane-bars");
    bars_tab_->setCheckable(true);
    connect(bars_tab_, &QToolButton::clicked, this, &LowerPane::show_bars);
    head->addWidget(bars_tab_);
    text_ = new QLabel;
    text_->setProperty("faint", true);
    text_->setFont(look::font(look::Size::small));
    text_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    head->addSpacing(8);
    head->addWidget(text_, 1);
    of_cut_ = new QWidget;
    auto* switches = new QHBoxLayout(of_cut_);
    switches->setContentsMargins(0, 0, 0, 0);
    switches->setSpacing(4);
    for (const auto& [name, of] : cut_->switches()) {
        auto* b = add_button(name, QString("cut-") + name);
        b->setCheckable(true);
        connect(b, &QToolButton::clicked, this, [this, of = of](bool on) { cut_->show_part(of, on); });
        connect(desk, &Desk::changed, b, [this, b, of = of](int what) {
            if (what & Desk::view) b->setChecked(cut_->shows(of));
            b->setVisible(cut_->offers(of));
        });
        b->setVisible(cut_->offers(of));
        b->setChecked(cut_->shows(of));
        switches->addWidget(b);
    }
    head->addWidget(of_cut_);
    of_tables_ = new QWidget;
    auto* deeds = new QHBoxLayout(of_tables_);
    deeds->setContentsMargins(0, 0, 0, 0);
    deeds->setSpacing(4);
    components_ = add_button("M and H of all cases", "all-components");
    components_->setCheckable(true);
    connect(components_, &QToolButton::clicked, this, [this](bool on) {
        if (TableView* t = table()) t->rows()->set_all_components(on);
    });
    add_ = add_button("Add a row", "add-row");
    connect(add_, &QToolButton::clicked, this, [this] {
        if (shows_combinations_)
            combinations_->copy_row();
        else
            table()->add_row();
    });
    gone_ = add_button("Delete rows", "delete-rows");
    connect(gone_, &QToolButton::clicked, this, [this] {
        if (shows_combinations_)
            combinations_->delete_rows();
        else
            table()->delete_rows();
    });
    turn_ = add_button("On or off", "turn-rows");
    connect(turn_, &QToolButton::clicked, this, [this] { combinations_->turn_rows(); });
    sums_ = add_button("Sums", "combination-sums");
    sums_->setCheckable(true);
    sums_->setToolTip("loads and what the ground returns, in place of results");
    connect(sums_, &QToolButton::clicked, this, [this](bool on) { combinations_->rows()->show_sums(on); });
    for (QToolButton* b : {components_, sums_, turn_, add_, gone_}) deeds->addWidget(b);
    head->addWidget(of_tables_);
    of_strip_ = new QWidget;
    auto* parts = new QHBoxLayout(of_strip_);
    parts->setContentsMargins(0, 0, 0, 0);
    parts->setSpacing(4);
    for (const auto& [part, name] :
         {std::pair{StripPart::steel, "steel"}, {StripPart::moment, "moment"}, {StripPart::shear, "shear"}}) {
        auto* b = add_button(name, QString("strip-") + name);
        b->setCheckable(true);
        connect(b, &QToolButton::clicked, this, [this, part = part] { strip_->show_part(part); });
        parts_[part] = b;
        parts->addWidget(b);
    }
    head->addWidget(of_strip_);
    stack_ = new QStackedWidget;
    stack_->addWidget(cut_);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(head_);
    column->addWidget(stack_, 1);
    setMinimumHeight(60);
    connect(cut_, &CutView::head_changed, this, &LowerPane::refresh_head);
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & Desk::view) follow_stop(), refresh_head();
        if (what & (Desk::model | Desk::answers)) refresh_head();
    });
    follow_stop();
    show_cut();
}

void LowerPane::follow_stop() {
    const std::vector<TableKind> offered = tables_at(desk_->stop);
    for (const auto& [k, b] : tabs_) b->setVisible(std::find(offered.begin(), offered.end(), k) != offered.end());
    const bool combine = desk_->stop == Stop::loads || desk_->stop == Stop::contact;
    combinations_tab_->setVisible(combine);
    curve_tab_->setVisible(desk_->stop == Stop::contact);
    punching_tab_->setVisible(desk_->stop == Stop::shear);
    strip_tab_->setVisible(desk_->stop == Stop::steel);
    bars_tab_->setVisible(desk_->stop == Stop::steel);
    if ((shows_combinations_ && !combine) || (shows_curve_ && desk_->stop != Stop::contact) ||
        (shows_punching_ && desk_->stop != Stop::shear) ||
        ((shows_strip_ || shows_bars_) && desk_->stop != Stop::steel))
        show_cut();
    if (current_ && std::find(offered.begin(), offered.end(), *current_) == offered.end()) show_cut();
}

TableView* LowerPane::table() { return current_ ? tables_[*current_] : nullptr; }

void LowerPane::show_cut() {
    current_.reset();
    leave_others();
    stack_->setCurrentWidget(cut_);
    refresh_head();
}

void LowerPane::show_combinations() {
    current_.reset();
    shows_curve_ = shows_punching_ = shows_strip_ = shows_bars_ = false, shows_combinations_ = true;
    desk_->combining = true;
    if (!combinations_) {
        combinations_ = new CombinationTable(desk_);
        stack_->addWidget(combinations_);
    }
    stack_->setCurrentWidget(combinations_);
    combinations_->setFocus();
    refresh_head();
    desk_->tell(Desk::view);
}

template <class Pane>
void LowerPane::show_other(Pane*& pane, bool& shows) {
    current_.reset();
    leave_others();
    shows = true;
    if (!pane) {
        pane = new Pane(desk_);
        stack_->addWidget(pane);
    }
    stack_->setCurrentWidget(pane);
    pane->setFocus();
    refresh_head();
    QMetaObject::invokeMethod(this, &LowerPane::refresh_head, Qt::QueuedConnection);  // once the head has its widths
}

void LowerPane::show_curve() { show_other(curve_, shows_curve_); }

void LowerPane::show_punching() { show_other(punching_, shows_punching_); }

void LowerPane::show_strip() {
    const bool is_new = !strip_;
    show_other(strip_, shows_strip_);
    if (is_new) connect(strip_, &StripPane::head_changed, this, &LowerPane::refresh_head);
}

void LowerPane::show_bars() {
    show_other(bars_, shows_bars_);
    bars_->rows()->refresh();
    refresh_head();
}

void LowerPane::leave_others() {
    shows_curve_ = shows_combinations_ = shows_punching_ = shows_strip_ = shows_bars_ = false;
    if (!std::exchange(desk_->combining, false)) return;
    QMetaObject::invokeMethod(
        desk_, [d = desk_] { d->tell(Desk::view); }, Qt::QueuedConnection);
}

void LowerPane::show_table(TableKind kind) {
    current_ = kind;
    leave_others();
    TableView*& t = tables_[kind];
    if (!t) {
        t = new TableView(desk_, kind);
        stack_->addWidget(t);
        stack_->setCurrentWidget(t);
        desk_->tell(Desk::choice);  // what is chosen is shown in it
    }
    stack_->setCurrentWidget(t);
    t->setFocus();
    refresh_head();
}

void LowerPane::resizeEvent(QResizeEvent* e) {
    QWidget::resizeEvent(e);
    QMetaObject::invokeMethod(this, &LowerPane::refresh_head, Qt::QueuedConnection);  // once the head has its widths
}

void LowerPane::fit_head() {
    QWidget* deeds = shows_table() ? of_tables_ : shows_strip_ ? of_strip_ : of_cut_;
    int tabs = 60;  // margins, and some of the words
    for (int i = 0; i < tabs_row_->count(); ++i)
        if (QWidget* w = tabs_row_->itemAt(i)->widget();
            w && w->isVisibleTo(head_) && w != text_ && w != of_cut_ && w != of_tables_ && w != of_strip_)
            tabs += w->sizeHint().width() + tabs_row_->spacing();
    QHBoxLayout* to = tabs + deeds->sizeHint().width() <= width() ? tabs_row_ : deeds_row_;
    for (QWidget* w : {of_cut_, of_tables_, of_strip_}) {
        if (to->indexOf(w) >= 0) continue;
        (to == tabs_row_ ? deeds_row_ : tabs_row_)->removeWidget(w);
        to->addWidget(w, 0, Qt::AlignRight);
    }
}

void LowerPane::turn() {
    if (shows_other())
        show_cut();
    else if (desk_->stop == Stop::loads)
        show_combinations();
    else if (desk_->stop == Stop::shear)
        show_punching();
    else if (desk_->stop == Stop::steel)
        show_strip();
    else
        show_table(tables_at(desk_->stop).front());
}

void LowerPane::refresh_head() {
    combinations_tab_->setChecked(shows_combinations_);
    for (const auto& [k, b] : tabs_) b->setChecked(current_ == k);
    curve_tab_->setChecked(shows_curve_);
    punching_tab_->setChecked(shows_punching_);
    strip_tab_->setChecked(shows_strip_);
    bars_tab_->setChecked(shows_bars_);
    const StripAnswer* strip = desk_->stop == Stop::steel ? desk_->strip() : nullptr;
    strip_tab_->setText(strip ? "Strip " + q(strip->strip.id) : QString("Strip"));
    of_strip_->setVisible(shows_strip_);
    for (const auto& [part, b] : parts_) b->setChecked(strip_ && strip_->part() == part);
    cut_tab_->setChecked(!shows_other());
    of_cut_->setVisible(!shows_other());
    add_->setVisible(current_ != TableKind::rules), gone_->setVisible(current_ != TableKind::rules);
    of_tables_->setVisible(shows_table());
    components_->setVisible(current_ == TableKind::columns || current_ == TableKind::load_sheet);
    turn_->setVisible(shows_combinations_);
    sums_->setVisible(shows_combinations_);
    if (TableView* t = table()) {
        components_->setChecked(t->rows()->all_components());
        text_->setText(current_ == TableKind::load_sheet
                           ? t->rows()->sums()
                           : QString("%1 rows · paste from a spreadsheet with Ctrl+V · Ctrl+D fills down · Esc shows "
                                     "the Cut")
                                 .arg(t->rows()->n_things()));
    } else if (shows_combinations_) {
        const auto& all = desk_->combinations();
        const long off = std::count_if(all.begin(), all.end(), [](const Combination& c) { return !c.active; });
        text_->setText(QString("%1 rows%2 · type a factor · Space switches a row off · Esc shows the Cut")
                           .arg(all.size())
                           .arg(off ? QString(", %1 off").arg(off) : QString()));
    } else if (shows_punching_) {
        text_->setText(QString("%1 places · a head sorts · Ctrl+C copies the table · Esc shows the Cut")
                           .arg(punching_->rows()->rowCount()));
    } else if (shows_strip_) {
        text_->setText(strip_->head());
    } else if (shows_bars_) {
        text_->setText(bars_->head());
    } else if (shows_curve_) {
        text_->setText("load against settlement · Ctrl+C copies the table · Esc shows the Cut");
    } else {
        text_->setText(cut_->head());
    }
    fit_head();
    text_->setToolTip(text_->text());
    text_->setText(text_->fontMetrics().elidedText(text_->text(), Qt::ElideRight, std::max(30, text_->width())));
}

}  // namespace mossbed
