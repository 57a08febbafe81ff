#include "app/working_view.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

#include "words/terms.h"

namespace mossbed {

WorkingView::WorkingView(Desk* desk, QWidget* parent) : QFrame(parent), desk_(desk) {
    setObjectName("working");
    setFrameShape(QFrame::StyledPanel);
    setAutoFillBackground(true);
    setFocusPolicy(Qt::StrongFocus);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(14, 10, 14, 12);
    auto* head = new QHBoxLayout;
    title_ = new QLabel(this);
    title_->setFont(look::font(look::Size::large, true));
    auto* close = new QPushButton("Close", this);
    connect(close, &QPushButton::clicked, this, &QWidget::hide);
    us_units_ = new QCheckBox("US customary units", this);
    us_units_->setObjectName("us-units");
    us_units_->setFocusPolicy(Qt::TabFocus);
    connect(us_units_, &QCheckBox::toggled, this, &WorkingView::fill);
    head->addWidget(title_, 1);
    head->addWidget(us_units_);
    head->addWidget(close);
    box->addLayout(head);
    note_ = new QLabel(this);
    note_->setWordWrap(true);
    box->addWidget(note_);
    lines_ = new QTableWidget(0, 4, this);
    lines_->setObjectName("working-lines");
    lines_->setHorizontalHeaderLabels({"Step", "How", "Value", "Unit"});
    lines_->verticalHeader()->hide();
    lines_->verticalHeader()->setDefaultSectionSize(24);
    lines_->setShowGrid(false);
    lines_->setWordWrap(true);
    lines_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    lines_->setSelectionMode(QAbstractItemView::NoSelection);
    lines_->setFocusPolicy(Qt::NoFocus);
    lines_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    lines_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    lines_->horizontalHeader()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
    lines_->horizontalHeader()->setSectionResizeMode(3, QHeaderView::ResizeToContents);
    box->addWidget(lines_, 1);
    connect(desk, &Desk::changed, this, [this](int what) {
        if (isVisible() && what & Desk::answers) fill();
    });
    hide();
}

void WorkingView::show_row(const std::string& key) {
    key_ = key;
    if (const UnitSystem units = desk_->now().settings.display_units; units != units_) {  // the model's own at first
        units_ = units;
        us_units_->setChecked(units == UnitSystem::us);
    }
    fill();
    show();
    raise();
    setFocus();
}

void WorkingView::fill() {
    const Row* row = nullptr;
    for (const Row& r : desk_->rows())
        if (r.key() == key_) row = &r;
    lines_->setRowCount(0);
    if (!row) {
        title_->setText("This check is gone");
        note_->setText("The model changed and no longer asks for it.");
        return;
    }
    title_->setText(QString::fromStdString(row->title) +
                    (row->utilisation ? "   " + look::number(*row->utilisation, 2) : ""));
    QStringList note;
    if (!row->clause.empty()) note << QString::fromStdString(row->clause);
    if (!row->combination.empty()) note << "combination " + QString::fromStdString(row->combination);
    note_->setText(note.join(" · ") + (row->note.empty() ? "" : "\n" + QString::fromStdString(row->note)));
    const UnitSystem system = us_units_->isChecked() ? UnitSystem::us : UnitSystem::metric;
    for (const Term& t : row->working) {
        const WrittenTerm l = written(t, system);
        const int n = lines_->rowCount();
        lines_->insertRow(n);
        int column = 0;
        for (const QString& text : {QString::fromStdString(l.text), QString::fromStdString(l.formula),
                                    look::on_screen(l.value), QString::fromStdString(l.unit)}) {
            auto* item = new QTableWidgetItem(text);
            if (column == 2) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            lines_->setItem(n, column++, item);
        }
    }
    lines_->resizeRowsToContents();
}

void WorkingView::resizeEvent(QResizeEvent* e) {
    QFrame::resizeEvent(e);
    lines_->resizeRowsToContents();
}

void WorkingView::showEvent(QShowEvent* e) {
    QFrame::showEvent(e);
    QTimer::singleShot(0, this, [this] { lines_->resizeRowsToContents(); });  // once the columns have their widths
}

void WorkingView::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Escape) return hide();
    QFrame::keyPressEvent(e);
}

}  // namespace mossbed
