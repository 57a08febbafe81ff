#include "app/main_window.h"

#include <QApplication>
#include <QClipboard>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QPainter>
#include <QPushButton>
#include <QSettings>
#include <QSplitter>
#include <QTimer>
#include <QVBoxLayout>
#include <atomic>
#include <thread>

#include "core/arrange/choice.h"
#include "core/bars/schedule.h"
#include "core/exchange/drawing_writer.h"
#include "core/exchange/file_kind.h"
#include "core/exchange/tables_out.h"

namespace mossbed {

StateLight::StateLight(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("state");
    setMinimumWidth(190);
    setToolTip("Click to hold or resume the solving");
    connect(desk, &Desk::changed, this, [this](int) { update(); });
}

QString StateLight::text() const {
    if (!desk_->problems().empty()) return "cannot solve";
    if (desk_->held) return "held";
    if (desk_->engine()->busy()) return "catching up" + (desk_->step.isEmpty() ? "" : " · " + desk_->step);
    if (desk_->in_step()) return "in step · " + look::number(desk_->answer()->seconds, 2) + " s";
    return desk_->answer() ? "catching up" : "nothing to solve yet";
}

void StateLight::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const bool bad = !desk_->problems().empty();
    p.setPen(Qt::NoPen);
    p.setBrush(bad ? look::rust : desk_->held ? look::faint : desk_->in_step() ? look::moss : look::ochre);
    p.drawEllipse(QPointF(9, height() / 2.0), 4.5, 4.5);
    p.setFont(look::font(look::Size::small, true));
    p.setPen(bad ? look::rust : look::ink);
    p.drawText(QRectF(20, 0, width() - 24, height()), Qt::AlignLeft | Qt::AlignVCenter, text());
    if (desk_->engine()->busy() && !bad)
        p.fillRect(QRectF(20, height() - 3, (width() - 30) * std::clamp(desk_->share, 0.05, 1.0), 2), look::moss);
}

MainWindow::MainWindow() {
    setWindowTitle("Moss Bed");
    resize(1280, 800);
    setAcceptDrops(true);
    setStyleSheet(look::style_sheet());
    setFont(look::font(look::Size::normal));
    trail_ = new Trail(&desk_);
    plan_ = new PlanView(&desk_);
    lower_ = new LowerPane(&desk_);
    tray_ = new Tray(&desk_);
    ledger_ = new Ledger(&desk_);
    working_ = new WorkingView(&desk_, plan_);

    auto* middle = new QSplitter(Qt::Horizontal);
    QWidget* side = make_plan_side();
    middle->addWidget(side);
    middle->addWidget(make_tray_side());
    middle->setStretchFactor(0, 1);
    middle->setSizes({940, 340});
    middle->setCollapsible(0, false);

    // Above the key; where a table has the whole height, over its foot.
    strip_ = new MessageStrip(side, Qt::BottomEdge, "strip", [this, side] {
        QRect r(plan_->mapTo(side, QPoint()), plan_->size() - QSize(0, int(plan_key_height)));
        return r.height() < 90 ? side->rect() : r;
    });
    auto* close = new QToolButton;
    close->setText("×");
    connect(close, &QToolButton::clicked, strip_, &QWidget::hide);
    strip_->row()->addWidget(close);
    make_offer();
    make_keys_page();

    auto* all = new QWidget;
    auto* column = new QVBoxLayout(all);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(trail_);
    column->addWidget(middle, 1);
    column->addWidget(make_status());
    setCentralWidget(all);
    make_menus();

    connect(&desk_, &Desk::changed, this, &MainWindow::follow);
    connect(&desk_, &Desk::message, this, &MainWindow::say);
    connect(plan_, &PlanView::hint_changed, this, [this] { show_hint(); });
    connect(plan_, &PlanView::tool_changed, this, [this] { show_tools(); });
    connect(tray_, &Tray::tool_wanted, this, [this](ToolKind kind) { take(kind); });
    connect(tray_, &Tray::table_wanted, this, [this](TableKind kind) { lower_->show_table(kind); });
    connect(tray_, &Tray::combinations_wanted, this, [this] { lower_->show_combinations(); });
    connect(tray_, &Tray::punching_wanted, this, [this] { lower_->show_punching(); });
    connect(tray_, &Tray::example_wanted, this, [this](const QString& name) {
        for (const QString& folder :
             {QString(EXAMPLES_DIR), QApplication::applicationDirPath() + "/../share/mossbed/examples"})
            if (QFileInfo::exists(folder + "/" + name) && open_file(folder + "/" + name)) return;
        say("The example was not found beside the program; open examples/" + name + " from where you keep it.", true);
    });
    connect(ledger_, &Ledger::working_wanted, this, &MainWindow::show_working);
    connect(plan_, &PlanView::working_wanted, this, &MainWindow::show_working);
    connect(tray_, &Tray::working_wanted, this, &MainWindow::show_working);
    connect(working_, &WorkingView::lead_wanted, this, &MainWindow::lead_to);
    connect(desk_.document(), &Document::replaced, working_, &QWidget::hide);  // it was about another model
    connect(&desk_, &Desk::ground_came, plan_, &PlanView::show_all);
    connect(&desk_, &Desk::plan_came, plan_, &PlanView::show_all);
    connect(ledger_, &Ledger::lead_wanted, this, &MainWindow::lead_to);
    connect(tray_, &Tray::page_turned, this, &MainWindow::fit_side);
    connect(desk_.document(), &Document::renamed, this, [this] { follow(Desk::model); });
    plan_->take(ToolKind::choose);
    follow(~0);
    qApp->installEventFilter(this);
}

// The views go while the desk still lies there: a line that loses the focus last would write to it.
MainWindow::~MainWindow() {
    qApp->removeEventFilter(this);
    if (auto* line = qobject_cast<Line*>(focusWidget())) line->on_take = nullptr;
    desk_.disconnect(this);
    desk_.document()->disconnect(this);
    delete takeCentralWidget();
}

void MainWindow::show_working(const std::string& key) {
    working_->setGeometry(plan_->rect());
    working_->show_row(key);
}

void MainWindow::lead_to(const std::string& path) {
    const std::string list = path.substr(0, path.find('/')), rest = path.substr(std::min(path.size(), list.size() + 1));
    if (path == "loads/water") return desk_.put_water_in();
    if (list == "columns") return desk_.choose({{ThingKind::column, rest}});
    desk_.choose({});
    desk_.go_to(list == "loads"   ? Stop::loads
                : list == "slab"  ? Stop::slab
                : list == "steel" ? Stop::steel
                                  : Stop::ground);
    tray_->show_field(path);
}

void MainWindow::fit_side() {
    if (side_is_dragged_) return;
    const int all = side_->height();
    if (all < 100) return;
    const int most = desk_.rows().empty() ? all - 140 : all * 6 / 10;
    const int wanted = std::clamp(tray_->wanted_height(), 120, std::max(120, most));
    side_->setSizes({wanted, all - wanted});
}

bool MainWindow::settle() {
    auto* line = qobject_cast<Line*>(focusWidget());
    const QString why = line ? line->settle() : QString();
    if (!why.isEmpty()) say(why + " Mend it, or press Escape for what stands.", true);
    return why.isEmpty();
}

void MainWindow::leave_line() {
    auto* line = qobject_cast<Line*>(focusWidget());
    const QString why = line ? line->leave() : QString();
    if (!why.isEmpty()) say(why, true);
}

void MainWindow::undo_or_redo(void (Document::*step)()) {
    if (!settle()) return;  // what is typed first becomes an edit
    (desk_.document()->*step)();
}

void MainWindow::escape() {
    auto* line = qobject_cast<Line*>(focusWidget());
    if (line && line->is_pending()) return line->give_up();
    for (QWidget* over : std::initializer_list<QWidget*>{keys_, working_})
        if (over->isVisible()) return over->hide(), plan_->setFocus();
    if (focusWidget() == search_ && ledger_->entries()->is_filtered())
        return search_->clear(), moved_->setChecked(false), plan_->setFocus();
    if (auto* scale = plan_->findChild<QFrame*>("key-scale"); scale && scale->isVisible())
        return scale->hide(), plan_->setFocus();
    if (lower_->shows_other() && lower_->isAncestorOf(focusWidget())) return lower_->show_cut(), plan_->setFocus();
    if (!plan_->put_down()) strip_->hide();
    plan_->setFocus();
}

bool MainWindow::eventFilter(QObject* of, QEvent* e) {
    auto* on = qobject_cast<QWidget*>(of);
    if (!on || on->window() != this) return QMainWindow::eventFilter(of, e);
    if (e->type() == QEvent::MouseButtonPress) {
        QWidget* typing = focusWidget();
        if (on != typing && qobject_cast<Line*>(typing)) leave_line();
    } else if (e->type() == QEvent::KeyPress && !QApplication::activePopupWidget()) {
        auto* k = static_cast<QKeyEvent*>(e);
        const bool cell = on->property("cell").toBool();  // its table shuts it
        if (k->key() == Qt::Key_Escape && k->modifiers() == Qt::NoModifier && !cell) {
            escape();
            return true;
        }
    }
    return QMainWindow::eventFilter(of, e);
}

// Those of the stop, and the one in hand.
void MainWindow::show_tools() {
    for (size_t i = 0; i < tools_.size(); ++i) {
        const ToolKind kind = tools()[i].kind;
        tools_[i]->setVisible(is_offered(kind, desk_.stop) || plan_->tool() == kind);
        tools_[i]->setChecked(plan_->tool() == kind);
    }
}

void MainWindow::take(ToolKind kind) {
    if (kind == ToolKind::ground_patch && desk_.stop != Stop::ground) desk_.go_to(Stop::ground);  // seen there only
    if ((kind == ToolKind::extra_bars || kind == ToolKind::strip) && desk_.stop != Stop::steel)
        desk_.go_to(Stop::steel);  // likewise
    if (kind == ToolKind::links && !is_offered(kind, desk_.stop)) desk_.go_to(Stop::shear);
    plan_->take(kind);
    plan_->setFocus();
}

void MainWindow::make_offer() {
    offer_ = new MessageStrip(plan_, Qt::TopEdge, "offer", [this] { return plan_->rect(); });
    auto choice = [&](const QString& text, const QString& name, auto deed) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        offer_->row()->addWidget(b);
        connect(b, &QPushButton::clicked, this, deed);
    };
    choice("Recover", "recover", [this] {
        offer_->hide();
        if (!unsaved_) return;
        desk_.document()->apply("Recover unsaved changes", unsaved_->model);
        recovery_.write_now();  // before the old copy goes
        Recovery::remove(unsaved_->path);
        unsaved_.reset();
        plan_->show_all();
    });
    choice("Throw away", "throw-away", [this] {
        offer_->hide();
        if (unsaved_) Recovery::remove(unsaved_->path);
        unsaved_.reset();
    });
    choice("Later", "later", [this] { offer_->hide(), unsaved_.reset(); });
}

void MainWindow::make_keys_page() {
    keys_ = new QFrame(plan_);
    keys_->setObjectName("keys-page");
    auto* grid = new QGridLayout(keys_);
    grid->setContentsMargins(18, 12, 18, 14);
    grid->setHorizontalSpacing(18);
    static constexpr std::array<std::pair<const char*, const char*>, 19> all{
        {{"Alt+1 … Alt+7", "the stops, from Ground to Sheets"},
         {"Page Up, Page Down", "combination before, next combination"},
         {"Ctrl+1 … Ctrl+9", "choose; draw slab, columns, walls, ribs, patches, openings, lines, ground patches"},
         {"Ctrl+Shift+5, 6", "lay extra bars, links"},
         {"Ctrl+T", "Cut or table in the lower pane"},
         {"Enter, Tab", "take what is typed; a number, a sum, or with another unit: 24 in, 3*1.2"},
         {"Escape", "put down: what is typed, a drag, a tool, what is chosen"},
         {"Ctrl+Z, Ctrl+Y", "undo and redo, one step an edit, from anywhere"},
         {"Delete, Ctrl+A", "what is chosen on the plan; choose all"},
         {"Arrow keys", "move what is chosen by 0.1 m, with Shift by 1 m"},
         {"Ctrl+C, Ctrl+V", "in a table: copy to and paste from a spreadsheet"},
         {"Ctrl+F", "search the Ledger"},
         {"Enter on a Ledger row", "its Working"},
         {"Shift, right button", "choose more; what can be done with a thing"},
         {"Wheel, middle button", "zoom; move the sheet"},
         {"Alt while dragging", "lets go of the snap"},
         {"Home", "show all"},
         {"F7", "at Steel: bars of the next face or direction"},
         {"F8", "hold or resume the solving"}}};
    auto* title = new QLabel("Keys");
    title->setFont(look::font(look::Size::large, true));
    grid->addWidget(title, 0, 0, 1, 2);
    for (size_t i = 0; i < all.size(); ++i) {
        auto* key = new QLabel(all[i].first);
        key->setFont(look::font(look::Size::normal, true));
        grid->addWidget(key, int(i) + 1, 0);
        grid->addWidget(new QLabel(all[i].second), int(i) + 1, 1);
    }
    grid->setColumnStretch(1, 1);
    keys_->hide();
}

void MainWindow::look_for_unsaved() {
    unsaved_ = Recovery::left_behind(desk_.document()->path(), desk_.now());
    offer_->setVisible(unsaved_.has_value());
    if (!unsaved_) return;
    offer_->text()->setText(QString("Changes of %1 were not saved when the program ended last time.")
                                .arg(QFileInfo(unsaved_->path).lastModified().toString("d MMMM yyyy, hh:mm")));
}

QWidget* MainWindow::make_plan_side() {
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* bar = new QWidget;
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(10, 4, 10, 4);
    row->setSpacing(5);
    row->setSpacing(4);
    for (const ToolEntry& t : tools()) {
        auto* b = new QToolButton;
        b->setText(t.title);
        b->setObjectName(QString("tool-") + t.key);
        b->setCheckable(true);
        connect(b, &QToolButton::clicked, this, [this, kind = t.kind] { take(kind); });
        tools_.push_back(b);
        if (!is_offered(t.kind, desk_.stop)) b->hide();  // before anything asks how wide they are
        b->setToolTip(QString("%1 (%2)").arg(QString(t.deed).remove('&'), t.shortcut));
        row->addWidget(b);
    }
    row->addStretch(1);
    auto* label = new QLabel("Map");
    label->setProperty("faint", true);
    row->addWidget(label);
    maps_ = new QComboBox;
    maps_->setObjectName("map");
    for (const QuantityInfo& q : quantities()) maps_->addItem(QString::fromUtf8(q.title));
    maps_->setMinimumWidth(70);
    connect(maps_, &QComboBox::activated, this, [this](int i) { desk_.look_at(quantities()[size_t(i)].quantity); });
    row->addWidget(maps_);
    auto* fit = new QToolButton;
    fit->setText("Show all");
    fit->setObjectName("show-all");
    connect(fit, &QToolButton::clicked, plan_, &PlanView::show_all);
    row->addWidget(fit);
    gone_when_narrow_ = {label, fit};
    auto* split = new QSplitter(Qt::Vertical);
    split->addWidget(plan_);
    split->addWidget(lower_);
    split->setStretchFactor(0, 1);
    split->setCollapsible(0, true);  // a table may have the whole height
    split->setCollapsible(1, false);
    split->setSizes({440, 230});
    column->addWidget(bar);
    column->addWidget(split, 1);
    return side;
}

QWidget* MainWindow::make_tray_side() {
    auto* side = side_ = new QSplitter(Qt::Vertical);
    connect(side, &QSplitter::splitterMoved, this, [this] { side_is_dragged_ = true; });
    side->addWidget(tray_);
    auto* lower = new QWidget;
    lower->setObjectName("side");
    lower->setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(lower);
    column->setContentsMargins(0, 6, 0, 0);
    column->setSpacing(2);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 0, 12, 0);
    auto* title = new QLabel("Ledger");
    title->setFont(look::font(look::Size::large, true));
    ledger_head_ = new QLabel;
    ledger_head_->setObjectName("ledger-head");
    search_ = new QLineEdit;
    search_->setObjectName("ledger-search");
    search_->setPlaceholderText("search");
    search_->setClearButtonEnabled(true);
    connect(search_, &QLineEdit::textChanged, this, [this](const QString& t) { ledger_->entries()->search(t); });
    moved_ = new QToolButton;
    moved_->setObjectName("ledger-moved");
    moved_->setText("moved");
    moved_->setToolTip("Only what the last edit moved");
    moved_->setCheckable(true);
    moved_->setProperty("quiet", true);
    connect(moved_, &QToolButton::toggled, this, [this](bool on) { ledger_->entries()->only_moved(on); });
    head->addWidget(title);
    head->addWidget(search_, 1);
    head->addWidget(moved_);
    column->addLayout(head);
    auto* count = new QHBoxLayout;
    count->setContentsMargins(18, 0, 12, 0);
    count->addWidget(ledger_head_);
    count->addStretch(1);
    column->addLayout(count);
    column->addWidget(ledger_, 1);
    side->addWidget(lower);
    side->setCollapsible(0, false);
    side->setCollapsible(1, false);
    side->setSizes({400, 290});
    side->setMinimumWidth(300);
    side->setMaximumWidth(460);
    return side;
}

QWidget* MainWindow::make_status() {
    auto* bar = new QWidget;
    bar->setObjectName("side");
    bar->setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(12, 3, 8, 3);
    row->setSpacing(10);
    hint_ = new QLabel;
    hint_->setObjectName("hint");
    hint_->setProperty("faint", true);
    hint_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    place_ = new QLabel;
    place_->setFixedWidth(118);
    reading_ = new QLabel;
    reading_->setFixedWidth(178);
    combination_ = new QToolButton;
    combination_->setObjectName("combination");
    combination_->setProperty("quiet", true);
    combination_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    combination_->setPopupMode(QToolButton::InstantPopup);
    auto* list = new QMenu(combination_);
    combination_->setMenu(list);
    connect(list, &QMenu::aboutToShow, this, [this, list] { list_combinations(list); });
    auto stepper = [&](const QString& text, int by, const QString& name) {
        auto* b = new QToolButton;
        b->setText(text);
        b->setObjectName(name);
        connect(b, &QToolButton::clicked, this, [this, by] { desk_.step_combination(by); });
        return b;
    };
    light_ = new StateLight(&desk_);
    connect(light_, &StateLight::pressed, this, [this] { desk_.hold(!desk_.held); });
    row->addWidget(hint_, 5);
    row->addWidget(place_);
    row->addWidget(reading_);
    row->addWidget(stepper("‹", -1, "combination-back"));
    row->addWidget(combination_, 3);
    row->addWidget(stepper("›", 1, "combination-on"));
    row->addWidget(light_);
    for (QWidget* l : std::initializer_list<QWidget*>{hint_, place_, reading_, combination_})
        l->setFont(look::font(look::Size::small));
    return bar;
}

namespace {

Stop stop_of(TableKind kind) {
    if (kind == TableKind::loads || kind == TableKind::load_sheet || kind == TableKind::rules) return Stop::loads;
    const auto of_ground = tables_at(Stop::ground);
    return std::find(of_ground.begin(), of_ground.end(), kind) == of_ground.end() ? Stop::slab : Stop::ground;
}

}  // namespace

void MainWindow::make_menus() {
    auto act = [this](QMenu* m, const QString& text, const QKeySequence& key, const QString& name, auto deed) {
        QAction* a = m->addAction(text);
        a->setObjectName(name);
        if (!key.isEmpty()) a->setShortcut(key);
        const bool of_file = m->title() == "&File";  // asks or refuses by itself
        connect(a, &QAction::triggered, this, [this, deed, of_file] {
            if (!of_file) leave_line();
            deed();
        });
        return a;
    };
    QMenu* file = menuBar()->addMenu("&File");
    act(file, "&New", QKeySequence::New, "new", [this] {
        if (!may_leave()) return;
        recovery_.forget();
        offer_->hide();
        desk_.document()->start_new();
        plan_->show_all();
    });
    act(file, "&Open …", QKeySequence::Open, "open", [this] {
        const QString path = QFileDialog::getOpenFileName(
            this, "Open a model, a table of columns, a drawing or a ground report", {},
            "All of these (*.mossbed *.csv *.txt *.xlsx *.ods *.dxf *.ags);;All files (*)");
        if (!path.isEmpty()) open_asked(path);
    });
    QMenu* recent = file->addMenu("Open &recent");
    recent->setObjectName("recent");
    connect(recent, &QMenu::aboutToShow, this, [this, recent] {
        recent->clear();
        for (const QString& p : QSettings("Moss Bed", "mossbed").value("recent").toStringList())
            connect(recent->addAction(p), &QAction::triggered, this, [this, p] {
                if (may_leave()) open_file(p);
            });
    });
    act(file, "&Columns from a table …", {}, "read-table", [this] {
        const QString path = QFileDialog::getOpenFileName(this, "Columns and reactions from a table", {},
                                                          "Tables (*.csv *.txt *.tsv *.xlsx *.ods);;All files (*)");
        if (!path.isEmpty()) desk_.read_table(path);
    });
    act(file, "Columns from the c&lipboard", QKeySequence("Ctrl+Shift+V"), "read-clipboard", [this] {
        const QString text = QApplication::clipboard()->text();
        if (text.trimmed().isEmpty()) return say("There is no text on the clipboard; copy a table first.", true);
        desk_.read_table_text(text.toStdString());
    });
    QAction* again = act(file, "Read the table a&gain", {}, "read-table-again", [this] { desk_.read_table_again(); });
    connect(file, &QMenu::aboutToShow, this, [this, again] {
        again->setEnabled(desk_.can_read_table_again());
        again->setText(desk_.can_read_table_again() ? "Read " + desk_.last_table() + " a&gain"
                                                    : "Read the table a&gain");
    });
    act(file, "A &drawing (DXF) …", {}, "read-drawing", [this] {
        const QString path = QFileDialog::getOpenFileName(this, "Outline, columns and walls from a drawing", {},
                                                          "Drawings (*.dxf);;All files (*)");
        if (!path.isEmpty()) desk_.read_drawing_file(path);
    });
    act(file, "&Export the plan as DXF …", {}, "export-drawing", [this] { export_as("dxf"); });
    act(file, "Export columns and loads as CSV …", {}, "export-columns", [this] { export_as("csv"); });
    act(file, "Export nodes with settlements as CSV …", {}, "export-nodes", [this] {
        if (!desk_.in_step()) return say("There is no answer of this model yet; wait until it is solved.", true);
        const QString path = QFileDialog::getSaveFileName(this, "Export nodes", "nodes.csv", "Tables (*.csv)");
        if (!path.isEmpty()) write_file(path, [this] { return nodes_csv(*desk_.answer()); });
    });
    act(file, "Export the schedule of &bars …", {}, "export-bars", [this] { export_bars(); });
    file->addSeparator();
    act(file, "Lay a &picture under the plan …", {}, "underlay", [this] {
        const QString path = QFileDialog::getOpenFileName(this, "Lay a picture under the plan", {},
                                                          "Pictures (*.png *.jpg *.jpeg *.bmp *.gif);;All files (*)");
        if (!path.isEmpty()) lay_under(path);
    });
    act(file, "&Save", QKeySequence::Save, "save", [this] { save(); });
    act(file, "Save &as …", QKeySequence::SaveAs, "save-as", [this] { save_as(); });
    file->addSeparator();
    act(file, "&Quit", QKeySequence::Quit, "quit", [this] { close(); });

    QMenu* edit = menuBar()->addMenu("&Edit");
    // Always there: what is being typed can be undone before it is an edit.
    QAction *undo = edit->addAction("Undo"), *redo = edit->addAction("Redo");
    undo->setShortcut(QKeySequence::Undo);
    undo->setObjectName("undo");
    redo->setShortcuts({QKeySequence("Ctrl+Shift+Z"), QKeySequence("Ctrl+Y")});
    redo->setObjectName("redo");
    connect(undo, &QAction::triggered, this, [this] { undo_or_redo(&Document::undo); });
    connect(redo, &QAction::triggered, this, [this] { undo_or_redo(&Document::redo); });
    QUndoStack* steps = desk_.document()->undo_stack();
    connect(steps, &QUndoStack::undoTextChanged, undo,
            [undo](const QString& t) { undo->setText(("Undo " + t).trimmed()); });
    connect(steps, &QUndoStack::redoTextChanged, redo,
            [redo](const QString& t) { redo->setText(("Redo " + t).trimmed()); });
    edit->addSeparator();
    act(edit, "Choose &all", QKeySequence::SelectAll, "choose-all", [this] { desk_.choose(all_of_plan(desk_.now())); });
    act(edit, "Choose all &like it", {}, "choose-alike", [this] {
        Things all;
        for (const Thing& t : desk_.chosen) all.merge(all_like(desk_.now(), t));
        desk_.choose(std::move(all));
    });
    act(edit, "&Delete what is chosen", {}, "delete", [this] { plan_->delete_chosen(); });

    QMenu* view = menuBar()->addMenu("&View");
    for (int i = 0; i < 7; ++i)
        act(view, Trail::title(Stop(i)), QKeySequence(QString("Alt+%1").arg(i + 1)), QString("stop-%1").arg(i),
            [this, i] { desk_.go_to(Stop(i)); });
    view->addSeparator();
    for (const QuantityInfo& q : quantities())
        act(view, QString::fromUtf8(q.title), {}, QString("map-") + q.key,
            [this, k = q.quantity] { desk_.look_at(k); });
    for (Face f : {Face::bottom, Face::top})
        for (Direction d : {Direction::x, Direction::y})
            act(view, QString("Bars, %1 along %2").arg(name_of(f), name_of(d)), {},
                QString("bars-%1-%2").arg(name_of(f), name_of(d)), [this, f, d] { look_at_bars(f, d); });
    act(view, "Bars of the next face or direction", QKeySequence("F7"), "bars-next", [this] {
        if (!is_of_bars(desk_.quantity)) return look_at_bars(desk_.bars_face, desk_.bars_direction);
        const bool turn = desk_.bars_direction == Direction::y;  // x, then y, then the other face
        look_at_bars(turn ? (desk_.bars_face == Face::bottom ? Face::top : Face::bottom) : desk_.bars_face,
                     turn ? Direction::x : Direction::y);
    });
    view->addSeparator();
    act(view, "S&cale of the map …", {}, "map-scale", [this] { plan_->type_scale(); });
    act(view, "&Cut or table", QKeySequence("Ctrl+T"), "lower-pane-turn", [this] { lower_->turn(); });
    for (TableKind k : all_tables())
        act(view, QString("Table of %1").arg(QString(title_of(k)).toLower()), {}, QString("table-%1").arg(int(k)),
            [this, k] {
                const auto here = tables_at(desk_.stop);
                if (std::find(here.begin(), here.end(), k) == here.end())
                    desk_.go_to(k == TableKind::columns ? Stop::loads : stop_of(k));
                lower_->show_table(k);
            });
    view->addSeparator();
    act(view, "Show &all", QKeySequence("Home"), "show-all-action", [this] { plan_->show_all(); });

    QMenu* model = menuBar()->addMenu("&Model");
    for (const ToolEntry& t : tools())
        act(model, t.deed, QKeySequence(t.shortcut), QString(t.key) + "-tool", [this, kind = t.kind] { take(kind); });

    QMenu* answer = menuBar()->addMenu("&Answer");
    act(answer, "Next combination", QKeySequence("PgDown"), "next-combination", [this] { desk_.step_combination(1); });
    act(answer, "Combination before", QKeySequence("PgUp"), "last-combination", [this] { desk_.step_combination(-1); });
    act(answer, "&Hold or resume the solving", QKeySequence("F8"), "hold", [this] { desk_.hold(!desk_.held); });
    act(answer, "&Working of the row in hand", QKeySequence("Ctrl+Return"), "show-working",
        [this] { ledger_->open_working(); });
    act(answer, "&Search the Ledger", QKeySequence::Find, "search", [this] {
        search_->setFocus();
        search_->selectAll();
    });
    act(answer, "Only what the last edit &moved", {}, "moved", [this] { moved_->toggle(); });

    QMenu* help = menuBar()->addMenu("&Help");
    act(help, "&Keys", QKeySequence("F1"), "keys", [this] {
        keys_->setVisible(!keys_->isVisible());
        keys_->adjustSize();
        keys_->move(std::max(8, (plan_->width() - keys_->width()) / 2), 14);
        keys_->raise();
    });
}

void MainWindow::look_at_bars(Face face, Direction direction) {
    if (desk_.stop != Stop::steel) desk_.go_to(Stop::steel);
    desk_.look_at_bars(face, direction);
}

void MainWindow::follow(int what) {
    if (what & (Desk::model | Desk::state)) {
        setWindowTitle(desk_.document()->display_name() + (desk_.document()->modified() ? " *" : "") + " — Moss Bed");
        if (!desk_.problems().empty())
            say(QString::fromStdString(desk_.problems()[0].sentence()), true);
        else if (says_why_not_solved_)
            strip_->hide();
        says_why_not_solved_ = !desk_.problems().empty();
    }
    if (what & Desk::view) show_tools();
    if (what & (Desk::view | Desk::answers | Desk::model)) {
        for (size_t i = 0; i < quantities().size(); ++i)
            if (quantities()[i].quantity == desk_.quantity) maps_->setCurrentIndex(int(i));
        show_words_of_status();
    }
    // The first answer fills pages that were fitted empty; not under the hand.
    if (what & Desk::answers && desk_.in_step() && !side_->underMouse() && tray_->wanted_height() > tray_->height())
        fit_side();
    if (what & (Desk::answers | Desk::state | Desk::model)) {
        const QString summary = ledger_->summary();
        ledger_head_->setText(summary);
        ledger_head_->setStyleSheet(look::text_colour(summary.startsWith("all")        ? Role::moss
                                                      : summary.startsWith("catching") ? Role::faint
                                                                                       : Role::rust));
    }
    if (what & (Desk::pointer | Desk::answers | Desk::view)) {
        place_->setText(desk_.pointer_at
                            ? QString("x %1  y %2 m")
                                  .arg(look::number(desk_.pointer_at->x, 2), look::number(desk_.pointer_at->y, 2))
                            : "");
        reading_->setText(plan_->reading());
    }
}

// Envelopes first, then the rows that are solved, by purpose.
void MainWindow::list_combinations(QMenu* list) {
    list->clear();
    auto add = [&](QMenu* to, const QString& text, bool in_hand, std::function<void()> deed) {
        QAction* a = to->addAction(text);
        a->setCheckable(true);
        a->setChecked(in_hand);
        connect(a, &QAction::triggered, this, std::move(deed));
    };
    for (const EnvelopeChoice& e : desk_.envelopes())
        add(list, QString("%1 of all for %2").arg(name_of(e.extreme), name_of(e.purpose)), desk_.envelope() == e,
            [this, e] { desk_.choose_envelope(e); });
    list->addSeparator();
    for (size_t p = 0; p < Words<Purpose>::all.size(); ++p) {
        QMenu* group = nullptr;
        for (const Combination& c : desk_.combinations()) {
            if (c.purpose != Purpose(p) || !c.active) continue;
            if (!group) group = list->addMenu(name_of(c.purpose));
            const std::string what = c.title.empty() ? rule_in_short(c) : c.title;
            add(group, QString::fromStdString(c.id + "   " + what), !desk_.envelope() && c.id == desk_.combination_id,
                [this, id = c.id] { desk_.choose_combination(id); });
        }
    }
}

void MainWindow::show_hint() {
    const QString text = plan_->hint();
    hint_->setText(hint_->fontMetrics().elidedText(text, Qt::ElideRight, std::max(60, hint_->width())));
    hint_->setToolTip(text);
}

void MainWindow::show_words_of_status() {
    constexpr int rim_and_arrow = 32;  // px, of the button
    const QString text = desk_.name_of_view();
    combination_->setText(combination_->fontMetrics().elidedText(
        text.isEmpty() ? "no combination" : text, Qt::ElideRight, std::max(80, combination_->width() - rim_and_arrow)));
    combination_->setToolTip(text);
    show_hint();
}

void MainWindow::say(const QString& sentence, bool bad) {
    strip_->say(sentence, bad);
    says_why_not_solved_ = false;
}

// Small files at once; large ones on a thread of their own, with the window alive meanwhile.
std::optional<Loaded> MainWindow::read_aside(const QString& path) {
    constexpr qint64 small = 4'000'000;  // bytes
    const int mine = ++reading_files_;
    if (QFileInfo(path).size() < small) return load_model(path.toStdString());
    struct Reading {
        Loaded loaded;
        std::atomic<bool> done{false};
    };
    auto reading = std::make_shared<Reading>();
    std::thread([reading, file = path.toStdString()] {
        reading->loaded = load_model(file);
        reading->done = true;
    }).detach();
    say(QString("Opening %1 …").arg(QFileInfo(path).fileName()), false);
    QTimer tick;
    tick.start(20);
    while (!reading->done && mine == reading_files_ && !closing_)
        QApplication::processEvents(QEventLoop::WaitForMoreEvents);
    if (!reading->done || mine != reading_files_ || closing_) return {};
    return std::move(reading->loaded);
}

bool MainWindow::open_file(const QString& path) {
    static const QStringList of_others{"ags", "csv", "txt", "tsv", "xlsx", "ods", "xls", "dxf", "dwg"},
        pictures{"png", "jpg", "jpeg", "bmp", "gif"};
    if (pictures.contains(QFileInfo(path).suffix().toLower())) return lay_under(path);
    if (of_others.contains(QFileInfo(path).suffix().toLower())) return look_at_file(path);
    const auto stamp = stamp_of(path.toStdString());
    const long before = desk_.document()->revision();
    std::optional<Loaded> loaded = read_aside(path);
    if (!loaded) return false;  // another file was opened meanwhile, or the window closed
    if (loaded->model) {
        if (desk_.document()->revision() != before && !may_leave()) return false;  // edited while it was read
        recovery_.forget();
    }
    const std::vector<Problem> problems = desk_.document()->take(path, std::move(*loaded), stamp);
    QStringList text;
    for (const Problem& p : problems) text << QString::fromStdString(p.sentence());
    const bool opened = desk_.document()->path() == path && !has_errors(problems);
    if (!opened) {
        say(QString("%1 was not opened; what was on the desk stays. ").arg(QFileInfo(path).fileName()) +
                text.mid(0, 3).join(" "),
            true);
        return false;
    }
    strip_->hide();
    if (!text.isEmpty()) say(text.mid(0, 3).join(" "), false);
    QSettings settings("Moss Bed", "mossbed");
    QStringList recent = settings.value("recent").toStringList();
    recent.removeAll(path);
    recent.prepend(path);
    settings.setValue("recent", recent.mid(0, 8));
    plan_->show_all();
    look_for_unsaved();
    return true;
}

// As wide as the slab, or 20 m, until it is fitted in the Tray.
// A file of another program: it is previewed, and nothing is lost.
bool MainWindow::look_at_file(const QString& path) {
    FileKind kind = FileKind::table;
    try {
        kind = kind_of_file(read_text(path.toStdString()));
    } catch (const Trouble& t) {
        return say(QString::fromStdString(t.problem.sentence()), true), false;
    }
    switch (kind) {
        case FileKind::drawing:
            desk_.read_drawing_file(path);
            return desk_.taking_drawing.has_value();
        case FileKind::report:
            desk_.read_report(path);
            return desk_.taking.has_value();
        default:
            desk_.read_table(path);
            return desk_.taking_table.has_value();
    }
}

void MainWindow::export_as(const QString& suffix) {
    const QString path =
        QFileDialog::getSaveFileName(this, suffix == "dxf" ? "Export the plan" : "Export columns and loads",
                                     desk_.document()->display_name().replace('/', '-') + "." + suffix,
                                     suffix == "dxf" ? "Drawings (*.dxf)" : "Tables (*.csv)");
    if (!path.isEmpty()) write_export(path);
}

bool MainWindow::write_export(const QString& path) {
    const bool drawing = QFileInfo(path).suffix().toLower() == "dxf";
    return write_file(path, [&] { return drawing ? write_drawing(desk_.now()) : columns_csv(desk_.now()); });
}

void MainWindow::export_bars() {
    if (!desk_.in_step()) return say("There is no answer of this model yet; wait until it is solved.", true);
    if (desk_.bars().marks.empty()) return say("There are no bars to list: give a design code, loads and rows.", true);
    const QString path = QFileDialog::getSaveFileName(this, "Export the schedule of bars",
                                                      desk_.document()->display_name().replace('/', '-') + "-bars.xlsx",
                                                      "Workbooks (*.xlsx);;Tables (*.csv)");
    if (!path.isEmpty()) write_bars(path);
}

bool MainWindow::write_bars(const QString& path) {
    const bool table = QFileInfo(path).suffix().toLower() == "csv";
    return write_file(path, [&] {
        return table ? schedule_csv(desk_.bars())
                     : schedule_xlsx(desk_.bars(), desk_.now().title, desk_.answer()->steel.concrete_m3);
    });
}

bool MainWindow::write_file(const QString& path, const std::function<std::string()>& text) {
    try {
        save_text(text(), path.toStdString());
    } catch (const Trouble& t) {
        return say(QString::fromStdString(t.problem.sentence()), true), false;
    }
    say(QFileInfo(path).fileName() + " is written.");
    return true;
}

bool MainWindow::lay_under(const QString& path) {
    const QImage image(path);
    if (image.isNull())
        return say(QFileInfo(path).fileName() + " is no picture that can be read; save it as PNG or JPEG.", true),
               false;
    Model m = desk_.now();
    Underlay u;
    std::vector<std::string> taken;
    for (const Underlay& other : m.underlays) taken.push_back(other.id);
    u.id = fresh_id("U", taken);
    u.file = name_of_underlay(path, desk_.document()->folder());
    if (has_slab(m)) {
        const Box b = box_of(outer_rim(m.slab.outline, 0.5));
        u.at = b.low, u.width = b.width();
    }
    m.underlays.push_back(std::move(u));
    desk_.document()->apply("Lay a picture under the plan", std::move(m));
    desk_.choose({});
    desk_.go_to(Stop::slab);
    plan_->show_all();
    return true;
}

// A model replaces what lies on the desk, and that is asked; a report adds to it.
void MainWindow::open_asked(const QString& path) {
    if (path.endsWith(".mossbed", Qt::CaseInsensitive) && !may_leave()) return;
    open_file(path);
}

bool MainWindow::save_to(const QString& path) {
    if (!settle()) return false;
    if (path == desk_.document()->path() && !may_overwrite()) return false;
    const auto problems = desk_.document()->save(path);
    if (problems.empty()) {
        recovery_.forget();
        return true;
    }
    say(QString::fromStdString(problems[0].sentence()), true);
    return false;
}

bool MainWindow::save() { return desk_.document()->path().isEmpty() ? save_as() : save_to(desk_.document()->path()); }

bool MainWindow::save_as() {
    QString path = QFileDialog::getSaveFileName(this, "Save the model as", desk_.document()->path(),
                                                "Moss Bed models (*.mossbed)");
    if (path.isEmpty()) return false;
    if (!path.endsWith(".mossbed")) path += ".mossbed";
    return save_to(path);
}

bool MainWindow::may_overwrite() {
    if (!desk_.document()->changed_by_others()) return true;
    QMessageBox box(
        QMessageBox::Question, "Moss Bed",
        QFileInfo(desk_.document()->path()).fileName() +
            " was changed by another program since it was opened here. Saving replaces what was written there.",
        QMessageBox::NoButton, this);
    box.setObjectName("changed-by-others");
    box.addButton("Replace it", QMessageBox::DestructiveRole);
    QAbstractButton* elsewhere = box.addButton("Save under another name", QMessageBox::AcceptRole);
    QAbstractButton* back = box.addButton("Back", QMessageBox::RejectRole);
    box.setEscapeButton(back);
    box.exec();
    if (box.clickedButton() == back || !box.clickedButton()) return false;
    if (box.clickedButton() == elsewhere) {
        save_as();
        return false;  // saved elsewhere, or not at all
    }
    return true;
}

bool MainWindow::may_leave() {
    if (!settle()) return false;
    if (!desk_.document()->modified()) return true;
    const auto answer =
        QMessageBox::question(this, "Moss Bed", desk_.document()->display_name() + " has changes that are not saved.",
                              QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel);
    return answer == QMessageBox::Discard || (answer == QMessageBox::Save && save());
}

void MainWindow::closeEvent(QCloseEvent* e) {
    if (!may_leave()) return e->ignore();
    closing_ = true;
    recovery_.forget();
    e->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* e) {
    if (e->mimeData()->hasUrls()) e->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* e) {
    const auto urls = e->mimeData()->urls();
    if (!urls.isEmpty() && urls[0].isLocalFile()) open_asked(urls[0].toLocalFile());
}

void MainWindow::resizeEvent(QResizeEvent* e) {
    QMainWindow::resizeEvent(e);
    for (QWidget* w : gone_when_narrow_) w->setVisible(width() >= 1200);
    if (working_->isVisible()) working_->setGeometry(plan_->rect());
    fit_side();
    QTimer::singleShot(0, this, [this] { show_words_of_status(); });
}

}  // namespace mossbed
