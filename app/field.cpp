#include "app/field.h"

#include <muParser.h>

#include <QHBoxLayout>
#include <QRegularExpression>
#include <QStyle>
#include <QTimer>
#include <cmath>
#include <map>

#include "draw/look.h"

namespace mossbed {

namespace {
// From the unit typed to the one of the field.
const std::map<QString, double>& factors(Unit u) {
    using Factors = std::map<QString, double>;
    static const std::map<Unit, Factors> all{
        {Unit::metre, {{"m", 1}, {"cm", .01}, {"mm", .001}, {"in", .0254}, {"ft", .3048}}},
        {Unit::millimetre, {{"mm", 1}, {"cm", 10}, {"m", 1000}, {"in", 25.4}}},
        {Unit::kilonewton, {{"kn", 1}, {"n", .001}, {"mn", 1000}, {"kip", 4.4482216}, {"lbf", .0044482216}}},
        {Unit::kilonewton_metre, {{"knm", 1}, {"kn·m", 1}, {"mnm", 1000}, {"kipft", 1.3558179}}},
        {Unit::kilopascal,
         {{"kpa", 1},
          {"pa", .001},
          {"mpa", 1000},
          {"psf", .04788026},
          {"ksf", 47.88026},
          {"psi", 6.894757},
          {"kn/m2", 1},
          {"kn/m²", 1}}},
        {Unit::megapascal, {{"mpa", 1}, {"gpa", 1000}, {"kpa", .001}, {"psi", .006894757}, {"ksi", 6.894757}}},
        {Unit::kilonewton_per_cubic_metre,
         {{"kn/m3", 1}, {"kn/m³", 1}, {"mn/m3", 1000}, {"mn/m³", 1000}, {"pci", 271.4471}, {"pcf", .1570875}}},
        {Unit::kilonewton_per_metre, {{"kn/m", 1}, {"mn/m", 1000}}},
        {Unit::square_metre_per_year, {{"m2/year", 1}, {"m²/year", 1}, {"m2/a", 1}, {"m²/a", 1}}},
        {Unit::degrees, {{"°", 1}, {"deg", 1}, {"rad", 57.29577951}}}};
    static const Factors none;
    const auto it = all.find(u);
    return it == all.end() ? none : it->second;
}
}  // namespace

std::optional<double> read_number(const QString& typed, Unit unit, QString* fault) {
    auto fail = [&](const QString& why) {
        if (fault) *fault = why;
        return std::nullopt;
    };
    QString text = typed.trimmed();
    text.replace(QChar(0x2212), '-').replace(',', '.').remove(QChar(0x2009)).remove(QChar(0x00A0));
    static const QRegularExpression tail("([A-Za-z°][A-Za-z°·/²³]*[23]?)$"), power("^[eE][0-9]*$");
    double factor = 1;
    if (const auto m = tail.match(text); m.hasMatch() && !power.match(m.captured(1)).hasMatch()) {
        const auto& known = factors(unit);
        const auto it = known.find(m.captured(1).toLower());
        if (it == known.end())
            return fail(QString("“%1” is not a unit of %2")
                            .arg(m.captured(1), unit == Unit::none ? "this number" : name_of(unit)));
        factor = it->second;
        text = text.left(m.capturedStart()).trimmed();
    }
    text.remove(' ');
    if (text.isEmpty()) return fail("a number is missing");
    bool is_plain = false;
    if (const double v = text.toDouble(&is_plain); is_plain && std::isfinite(v * factor)) return v * factor;
    static const QRegularExpression allowed("^[-+*/^().0-9eE]+$");
    if (!allowed.match(text).hasMatch()) return fail("this is not a number or a sum of numbers");
    try {
        mu::Parser parser;
        parser.SetExpr(text.toStdString());
        const double v = parser.Eval() * factor;
        if (!std::isfinite(v)) return fail("this has no finite value");
        return v;
    } catch (const mu::Parser::exception_type&) {
        return fail("this is not a number or a sum of numbers");
    }
}

QString plain(double v) {
    QString s = QString::number(v, 'f', std::abs(v) >= 1000 ? 1 : 4);
    while (s.contains('.') && (s.endsWith('0') || s.endsWith('.'))) s.chop(1);
    return s == "-0" ? "0" : s;
}

QString fault_of(double v, const Field::Range& r, Unit unit) {
    if (v <= r.high && v >= r.low && !(r.above_low && v == r.low)) return {};
    return QString("%1 %2 is out of reason: %3")
        .arg(plain(v), name_of(unit),
             r.low > -1e299 && r.high < 1e299 ? QString("%1 to %2").arg(plain(r.low), plain(r.high))
             : r.low > -1e299                 ? QString(r.above_low ? "above %1" : "%1 or more").arg(plain(r.low))
                                              : QString("%1 or less").arg(plain(r.high)));
}

Field::Field(const QString& label, Unit unit, const QString& name, QWidget* parent) : QWidget(parent), unit_(unit) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    label_ = new QLabel(label, this);
    line_ = new Line(this);
    line_->setObjectName(name);
    line_->setAlignment(Qt::AlignRight);
    line_->setFixedWidth(104);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);  // a crowded page scrolls, it does not squeeze
    line_->on_take = [this](bool leaving) { return take(leaving); };
    line_->installEventFilter(this);
    unit_label_ = new QLabel(name_of(unit), this);
    unit_label_->setFixedWidth(44);
    unit_label_->setProperty("faint", true);
    row->addWidget(label_, 1);
    row->addWidget(line_);
    row->addWidget(unit_label_);
    connect(line_, &QLineEdit::editingFinished, this, [this] { line_->hasFocus() ? line_->settle() : line_->leave(); });
    connect(line_, &QLineEdit::textEdited, this, [this] {
        if (fault_) fault_->hide();
    });
}

void Field::make_short(int label_width) {
    if (label_width > 0) label_->setFixedWidth(label_width), layout()->setSpacing(4);
    line_->setFixedWidth(label_width > 0 ? 54 : 58);
    unit_label_->hide();
}

void Field::show_value(std::optional<double> v, bool is_default) {
    line_->show_text(v ? plain(*v) : "");
    line_->setPlaceholderText("");
    if (line_->property("standard").toBool() == is_default) return;
    line_->setProperty("standard", is_default);
    line_->style()->unpolish(line_);
    line_->style()->polish(line_);
}

void Field::show_several() {
    show_value({}, false);
    line_->setPlaceholderText("several");
}

// Under the line and over what stands there: a message moves nothing and stops no click.
void Field::say_fault(const QString& why) {
    if (!fault_) {
        fault_ = new QLabel(parentWidget() ? parentWidget() : this);
        fault_->setObjectName(line_->objectName() + "-fault");
        fault_->setProperty("fault-note", true);
        fault_->setWordWrap(true);
        fault_->setAttribute(Qt::WA_TransparentForMouseEvents);
    }
    fault_->setText(why);
    QWidget* on = fault_->parentWidget();
    const int w = std::max(160, on == this ? width() : on->width() - 24);
    const QPoint below = mapTo(on, QPoint(0, line_->geometry().bottom() + 3));
    const int h = fault_->heightForWidth(w);
    const bool fits = on == this || below.y() + h < on->height();
    fault_->setGeometry(on == this ? 0 : 12, fits ? below.y() : std::max(0, below.y() - h - line_->height() - 6), w, h);
    fault_->show();
    fault_->raise();
}

QString Field::take(bool leaving) {
    const QString typed = line_->text().trimmed();
    QString why;
    std::optional<double> v;
    if (!(optional_ && typed.isEmpty())) {
        v = read_number(typed, unit_, &why);
        if (v) why = fault_of(*v, range_, unit_);
    }
    if (why.isEmpty()) {
        if (fault_) fault_->hide();
        line_->setText(v ? plain(*v) : "");
        line_->show_text(line_->text());
        if (line_->hasFocus()) line_->selectAll();
        Q_EMIT entered(v);
        return {};
    }
    if (leaving) {
        line_->give_up();
        QTimer::singleShot(9000, this, [this] { fault_->hide(); });
        why = QString("“%1” was not taken: %2. %3 stays.")
                  .arg(typed, why, line_->shown().isEmpty() ? "What was" : line_->shown());
    } else {
        why += ".";
    }
    say_fault(why);
    return label_->text().isEmpty() ? why : label_->text() + ": " + why;
}

bool Field::eventFilter(QObject* of, QEvent* e) {
    if (e->type() == QEvent::FocusIn && fault_ && !line_->is_pending()) fault_->hide();
    return QWidget::eventFilter(of, e);
}

}  // namespace mossbed
