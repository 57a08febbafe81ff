#include "app/working_view.h"

#include <QApplication>
#include <QClipboard>
#include <QDate>
#include <QHeaderView>
#include <QKeyEvent>
#include <QMimeData>
#include <QPainter>
#include <QPrintDialog>
#include <QPrinter>
#include <QTextDocument>
#include <QTimer>
#include <QVBoxLayout>

#include "app/ledger.h"
#include "draw/render.h"
#include "drawing/working_sketch.h"
#include "words/terms.h"

namespace mossbed {

void SketchView::show_row(const Row* row, const std::shared_ptr<const Answer>& answer) {
    row_ = row ? std::optional(*row) : std::nullopt;
    answer_ = answer;
    setVisible(!is_empty());
    update();
}

bool SketchView::is_empty() const {
    return !row_ || !answer_ || working_sketch(*row_, *answer_, from_qt(QRectF(0, 0, 200, 150))).drawing.marks.empty();
}

QImage SketchView::picture(const QSize& size) const {
    QImage image(size * 3, QImage::Format_ARGB32);
    image.setDevicePixelRatio(3);
    image.fill(look::white);
    if (is_empty()) return image;
    QPainter p(&image);
    const QRectF all(QPointF(0, 0), QSizeF(size));
    const Sketch s = working_sketch(*row_, *answer_, from_qt(all));
    paint_drawing(p, s.drawing, s.view, all);
    return image;
}

void SketchView::paintEvent(QPaintEvent*) {
    if (!row_ || !answer_) return;
    QPainter p(this);
    p.setClipRect(rect());
    const Sketch s = working_sketch(*row_, *answer_, from_qt(QRectF(rect())));
    paint_drawing(p, s.drawing, s.view, rect());
    p.setPen(look::line);
    p.drawRect(rect().adjusted(0, 0, -1, -1));
}

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
    auto button = [&](const QString& text, const QString& name, auto deed) {
        auto* b = new QPushButton(text, this);
        b->setObjectName(name);
        b->setFocusPolicy(Qt::TabFocus);
        connect(b, &QPushButton::clicked, this, deed);
        return b;
    };
    us_units_ = new QCheckBox("US customary units", this);
    us_units_->setObjectName("us-units");
    us_units_->setFocusPolicy(Qt::TabFocus);
    connect(us_units_, &QCheckBox::toggled, this, &WorkingView::fill);
    lead_ = button("Go there ›", "working-lead", [this] {
        if (const Row* r = row()) {
            hide();
            Q_EMIT lead_wanted(r->leads_to);
        }
    });
    head->addWidget(title_, 1);
    head->addWidget(us_units_);
    head->addWidget(lead_);
    head->addWidget(button("Copy", "working-copy", [this] { copy(); }));
    head->addWidget(button("Print …", "working-print", [this] { print(); }));
    head->addWidget(button("Close", "working-close", [this] { hide(); }));
    box->addLayout(head);
    auto* upper = new QHBoxLayout;
    auto* said = new QVBoxLayout;
    note_ = new QLabel(this);
    note_->setWordWrap(true);
    conclusion_ = new QLabel(this);
    conclusion_->setObjectName("working-conclusion");
    conclusion_->setWordWrap(true);
    conclusion_->setFont(look::font(look::Size::normal, true));
    said->addWidget(note_);
    said->addWidget(conclusion_);
    said->addStretch(1);
    sketch_ = new SketchView(this);
    sketch_->setFixedSize(210, 150);
    upper->addLayout(said, 1);
    upper->addWidget(sketch_);
    box->addLayout(upper);
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
    lines_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
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

const Row* WorkingView::row() const {
    for (const Row& r : desk_->rows())
        if (r.key() == key_) return &r;
    return nullptr;
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
    const Row* row = this->row();
    lines_->setRowCount(0);
    sketch_->show_row(row, desk_->answer());
    lead_->setVisible(row && !row->leads_to.empty());
    if (row) {
        QString text = Ledger::link_of(*row);
        lead_->setText(text.isEmpty() ? text : text.replace(0, 1, text[0].toUpper()));
    }
    if (!row) {
        title_->setText("This check is gone");
        note_->setText("The model changed and no longer asks for it.");
        conclusion_->clear();
        return;
    }
    title_->setText(QString::fromStdString(row->title) +
                    (row->utilisation ? "   " + look::number(*row->utilisation, 2) : ""));
    QStringList note;
    if (!row->clause.empty()) note << QString::fromStdString(row->clause);
    if (!row->combination.empty()) note << "combination " + QString::fromStdString(row->combination);
    if (desk_->is_old()) note << "of before the edit";
    note_->setText(note.join(" · "));
    conclusion_->setText(QString::fromStdString(conclusion_of(*row)));
    conclusion_->setStyleSheet(look::text_colour(row->status == Status::pass       ? Role::moss
                                                 : row->status == Status::no_limit ? Role::faint
                                                                                   : Role::rust));
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

QString WorkingView::sheet() const {
    const auto cell = [](const QString& s, const char* how = "") {
        return QString("<td %1>").arg(how) + s.toHtmlEscaped() + "</td>";
    };
    QString t = "<h2>" + title_->text().toHtmlEscaped() + "</h2><p>" +
                desk_->document()->display_name().toHtmlEscaped() + " · " +
                QDate::currentDate().toString("d MMMM yyyy") + "<br>" + note_->text().toHtmlEscaped() + "</p>";
    if (!sketch_->is_empty()) t += "<p><img src='sketch' width='280' height='200'></p>";
    t += "<table cellspacing='0' cellpadding='3' width='100%'><tr><th align='left'>Step</th><th align='left'>How</th>"
         "<th align='right'>Value</th><th align='left'>Unit</th></tr>";
    for (int r = 0; r < lines_->rowCount(); ++r)
        t += "<tr>" + cell(lines_->item(r, 0)->text()) + cell(lines_->item(r, 1)->text()) +
             cell(lines_->item(r, 2)->text(), "align='right'") + cell(lines_->item(r, 3)->text()) + "</tr>";
    return t + "</table><p><b>" + conclusion_->text().toHtmlEscaped() + "</b></p>";
}

void WorkingView::copy() {
    QStringList rows{title_->text(), note_->text(), "Step\tHow\tValue\tUnit"};
    for (int r = 0; r < lines_->rowCount(); ++r) {
        QStringList cells;
        for (int c = 0; c < 4; ++c) cells << lines_->item(r, c)->text();
        rows << cells.join('\t');
    }
    rows << conclusion_->text();
    auto* data = new QMimeData;
    data->setText(rows.join('\n') + '\n');
    QString html = sheet();
    data->setHtml(html.remove("<p><img src='sketch' width='280' height='200'></p>"));
    QApplication::clipboard()->setMimeData(data);
    desk_->say("The Working is on the clipboard, as a table.");
}

void WorkingView::print_on(QPrinter* printer) {
    QTextDocument page;
    page.setDefaultFont(look::font(look::Size::small));
    page.addResource(QTextDocument::ImageResource, QUrl("sketch"), sketch_->picture({280, 200}));
    page.setHtml(sheet());
    page.print(printer);
}

void WorkingView::print() {
    QPrinter printer(QPrinter::HighResolution);
    QPrintDialog ask(&printer, this);
    if (ask.exec() == QDialog::Accepted) print_on(&printer);
}

void WorkingView::keyPressEvent(QKeyEvent* e) {
    if (e->matches(QKeySequence::Copy)) return copy();
    if (e->matches(QKeySequence::Print)) return print();
    QFrame::keyPressEvent(e);
}

void WorkingView::resizeEvent(QResizeEvent* e) {
    QFrame::resizeEvent(e);
    lines_->resizeRowsToContents();
}

void WorkingView::showEvent(QShowEvent* e) {
    QFrame::showEvent(e);
    QTimer::singleShot(0, this, [this] { lines_->resizeRowsToContents(); });  // once the columns have their widths
}

}  // namespace mossbed
