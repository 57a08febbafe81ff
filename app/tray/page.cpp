#include "app/tray/page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>

#include "app/tray/parts.h"

namespace mossbed {

std::string path(const std::string& list, const std::string& id, const std::string& key) {
    return list + "/" + escaped_part(id) + (key.empty() ? "" : "/" + key);
}

Field::Range range_of(const Facts& f) {
    constexpr double far = 20;  // times what is usual
    const double none = std::numeric_limits<double>::infinity();
    if (f.one_in) return {f.most < none ? 1 / f.most : 0, f.least > 0 ? 1 / f.least : 1e300, true};
    Field::Range r;
    if (f.least > -none) r.low = f.least * f.factor(), r.above_low = f.above_least;
    if (f.most < none)
        r.high = f.most * f.factor();
    else if (f.usual_high > 0)
        r.high = far * f.usual_high * f.factor();
    return r;
}

Page::Page(Desk* desk) : desk_(desk) {
    setObjectName("tray-body");
    box_ = new QVBoxLayout(this);
    box_->setContentsMargins(14, 10, 12, 10);
    box_->setSpacing(6);
}

void Page::refresh() {
    filling_ = true;
    for (auto& f : refreshers_) f();
    filling_ = false;
}

void Page::edit(const QString& deed, const std::function<void(Model&)>& change) {
    Model m = now();
    change(m);
    desk_->document()->apply(deed, std::move(m));
}

void Page::refuse(const QString& why) {
    desk_->say(why, true);
    refresh();
}

void Page::heading(const QString& text, const QString& right) {
    auto* row = new QHBoxLayout;
    auto* l = new QLabel(text);
    l->setFont(look::font(look::Size::large, true));
    row->addWidget(l, 1);
    if (!right.isEmpty()) {
        auto* r = new QLabel(right);
        r->setProperty("faint", true);
        row->addWidget(r);
    }
    box_->addLayout(row);
}

void Page::words(const QString& text, const char* name, bool fault) {
    auto* l = new QLabel(text);
    l->setWordWrap(true);
    l->setProperty(fault ? "fault" : "faint", true);
    if (name) l->setObjectName(name);
    box_->addWidget(l);
}

QLabel* Page::live(const std::function<QString()>& text, const char* name, int lines) {
    auto* l = new QLabel;
    l->setWordWrap(true);
    l->setObjectName(name);
    l->setTextFormat(Qt::RichText);
    box_->addWidget(l);
    l->setMinimumHeight(lines * l->fontMetrics().lineSpacing());
    l->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    refreshers_.push_back([l, text] {
        l->setText(text());
        if (l->isVisible()) l->setMinimumHeight(std::max(l->minimumHeight(), l->heightForWidth(l->width())));
    });
    return l;
}

void Page::result(const std::function<QString()>& text, const char* name, int lines) {
    QLabel* l = live(text, name, lines);
    refreshers_.push_back([this, l] { fade(l, desk_->is_old()); });
}

void Page::button(const QString& text, const QString& name, const std::function<void()>& deed) {
    auto* b = new QPushButton(text);
    b->setObjectName(name);
    box_->addWidget(b, 0, Qt::AlignLeft);
    connect(b, &QPushButton::clicked, this, deed);
}

void Page::buttons(const std::vector<Button>& all) {
    auto* row = new QHBoxLayout;
    for (const Button& one : all) {
        auto* b = new QPushButton(one.text);
        b->setObjectName(one.name);
        row->addWidget(b);
        connect(b, &QPushButton::clicked, this, one.deed);
    }
    row->addStretch(1);
    box_->addLayout(row);
}

namespace {

QString name_by_key(std::string key) {
    std::replace(key.begin(), key.end(), '_', '-');
    return q(key);
}
QString deed_by(const Described& d) { return "Set " + q(d.facts.name()); }
QString tip_of(const Facts& f) { return q(f.help); }

// The value that all have; nothing and `differ` where they do not.
template <class T, class F>
std::optional<T> common(const Model& m, const std::vector<std::string>& paths, bool& differ, F value) {
    std::optional<T> first;
    differ = false;
    for (size_t i = 0; i < paths.size(); ++i)
        if (const auto d = find_field(m, paths[i])) {
            const std::optional<T> v = value(*d);
            if (i == 0)
                first = v;
            else if (v != first)
                differ = true;
        }
    return differ ? std::nullopt : first;
}

}  // namespace

Field* Page::field(const std::string& one, const Named& named) { return field(std::vector{one}, named); }

Field* Page::field(const std::vector<std::string>& paths, const Named& named) {
    const auto d = find_field(now(), paths.front());
    if (!d) return nullptr;
    const QString label = named.label.isEmpty() ? q(d->facts.label) : named.label;
    auto* f = new Field(label, d->facts.on_screen(), named.name.isEmpty() ? name_by_key(d->key) : named.name);
    f->setProperty("path", q(paths.front()));
    f->set_range(range_of(d->facts));
    f->set_optional(d->may_be_empty());
    f->setToolTip(tip_of(d->facts));
    box_->addWidget(f);
    refreshers_.push_back([this, f, paths] {
        const auto first = find_field(now(), paths.front());
        if (!first) return;
        bool differ = false;
        const auto v = common<double>(now(), paths, differ, [](const Described& one) { return one.number(); });
        differ ? f->show_several() : f->show_value(v, first->is_standard());
    });
    const QString deed = named.deed.isEmpty() ? deed_by(*d) : named.deed;
    connect(f, &Field::entered, this, [this, deed, paths](std::optional<double> v) {
        edit(deed, [&](Model& m) {
            for (const std::string& p : paths)
                if (auto one = find_field(m, p)) one->set_number(v);
        });
    });
    return f;
}

Field* Page::number(const QString& label, Unit unit, const QString& name, const QString& deed, const Get& get,
                    const Put& put, Field::Range range) {
    auto* f = new Field(label, unit, name);
    f->set_range(range);
    box_->addWidget(f);
    refreshers_.push_back([this, f, get] { f->show_value(get(now()), false); });
    connect(f, &Field::entered, this, [this, deed, put](std::optional<double> v) {
        if (v) edit(deed, [&](Model& m) { put(m, *v); });
    });
    return f;
}

void Page::tick(const std::string& one, const Named& named) { tick(std::vector{one}, named); }

void Page::tick(const std::vector<std::string>& paths, const Named& named) {
    const auto d = find_field(now(), paths.front());
    if (!d) return;
    auto* c = new QCheckBox(named.label.isEmpty() ? q(d->facts.label) : named.label);
    c->setObjectName(named.name.isEmpty() ? name_by_key(d->key) : named.name);
    c->setToolTip(tip_of(d->facts));
    c->setProperty("path", q(paths.front()));
    box_->addWidget(c);
    refreshers_.push_back([this, c, paths] {
        bool differ = false;
        const auto on =
            common<bool>(now(), paths, differ, [](const Described& one) { return std::optional(one.is_on()); });
        c->setTristate(differ);
        c->setCheckState(differ ? Qt::PartiallyChecked : on.value_or(false) ? Qt::Checked : Qt::Unchecked);
    });
    const QString deed = named.deed.isEmpty() ? c->text() : named.deed;
    connect(c, &QCheckBox::clicked, this, [this, deed, paths](bool on) {
        edit(deed, [&](Model& m) {
            for (const std::string& p : paths)
                if (auto one = find_field(m, p)) one->switch_on(on);
        });
    });
}

void Page::choice(const std::string& one, const Named& named, QStringList titles) {
    choice(std::vector{one}, named, std::move(titles));
}

void Page::choice(const std::vector<std::string>& paths, const Named& named, QStringList titles,
                  std::function<void(Model&)> then) {
    const auto d = find_field(now(), paths.front());
    if (!d) return;
    const std::vector<std::string> values = d->words();
    if (titles.isEmpty())
        for (const std::string& v : values) titles << q(v);
    auto* row = new QHBoxLayout;
    auto* c = new QComboBox;
    c->setObjectName(named.name.isEmpty() ? name_by_key(d->key) : named.name);
    c->addItems(titles);
    c->setFixedWidth(154);
    row->addWidget(new QLabel(named.label.isEmpty() ? q(d->facts.label) : named.label), 1);
    row->addWidget(c);
    box_->addLayout(row);
    refreshers_.push_back([this, c, values, paths] {
        bool differ = false;
        const auto word =
            common<std::string>(now(), paths, differ, [](const Described& one) { return std::optional(one.word()); });
        const auto it = std::find(values.begin(), values.end(), word.value_or(""));
        c->setCurrentIndex(it == values.end() ? -1 : int(it - values.begin()));
    });
    const QString deed = named.deed.isEmpty() ? deed_by(*d) : named.deed;
    connect(c, &QComboBox::activated, this, [this, values, deed, paths, then](int i) {
        edit(deed, [&](Model& m) {
            for (const std::string& p : paths)
                if (auto one = find_field(m, p)) one->set_word(values[size_t(i)]);
            if (then) then(m);
        });
    });
}

QTableWidget* Page::table(const QStringList& heads, const QString& name) {
    auto* t = new QTableWidget(0, int(heads.size()));
    t->setObjectName(name);
    t->setHorizontalHeaderLabels(heads);
    t->horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    t->verticalHeader()->hide();
    t->verticalHeader()->setDefaultSectionSize(22);
    t->horizontalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
    t->horizontalHeader()->setHighlightSections(false);
    t->setSelectionMode(QAbstractItemView::SingleSelection);
    t->setItemDelegate(new CellDelegate(t));
    t->setFrameShape(QFrame::NoFrame);
    t->setFont(look::font(look::Size::small));
    t->setHorizontalScrollBarPolicy(Qt::ScrollBarAsNeeded);
    t->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    box_->addWidget(t);
    return t;
}

}  // namespace mossbed
