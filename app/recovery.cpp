#include "app/recovery.h"

#include <unistd.h>

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

namespace mossbed {
namespace {

const QString mark = "~recovery";

QString data_folder() { return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation); }

// Where copies of a file may lie: beside it, and in the data folder under a name that no other file has.
struct Place {
    QString folder, stem;
};
std::vector<Place> places_of(const QString& file) {
    if (file.isEmpty()) return {{data_folder(), "untitled"}};
    const QFileInfo info(file);
    const QString hash =
        QCryptographicHash::hash(info.absoluteFilePath().toUtf8(), QCryptographicHash::Sha1).toHex().left(10);
    return {{info.absolutePath(), info.fileName()}, {data_folder(), info.fileName() + "-" + hash}};
}

QString copy_in(const Place& p) { return p.folder + "/" + p.stem + mark + QString::number(::getpid()); }

}  // namespace

Recovery::Recovery(Document* document, QObject* parent) : QObject(parent), document_(document) {
    writer_.setMaxThreadCount(1);  // one after the other: an older copy never overtakes a newer one
    soon_.setSingleShot(true), soon_.setInterval(2000);
    latest_.setSingleShot(true), latest_.setInterval(10000);
    connect(&soon_, &QTimer::timeout, this, &Recovery::write);
    connect(&latest_, &QTimer::timeout, this, &Recovery::write);
    connect(document, &Document::changed, this, &Recovery::changed);
    connect(document->undo_stack(), &QUndoStack::cleanChanged, this, [this](bool clean) {
        if (clean) forget();  // saved, or undone to what is saved
    });
}

Recovery::~Recovery() { forget(); }

void Recovery::changed() {
    soon_.start();  // whether there is anything to keep is seen then: the undo stack tells only after the model has
                    // changed
    if (!latest_.isActive()) latest_.start();
}

void Recovery::write() {
    soon_.stop(), latest_.stop();
    if (!document_->modified()) return forget();
    if (document_->previewing()) return soon_.start();
    copies_.clear();
    for (const Place& p : places_of(document_->path())) copies_ << copy_in(p);
    QDir().mkpath(data_folder());
    writer_.start([copies = copies_, model = document_->model()] {
        const std::string text = write_model(model);
        for (const QString& copy : copies) {
            try {
                return save_text(text, copy.toStdString());
            } catch (const Trouble&) {
                // The next place may do; where none does, the model is as safe as it was.
            }
        }
    });
}

void Recovery::write_now() {
    write();
    writer_.waitForDone();
}

void Recovery::forget() {
    soon_.stop(), latest_.stop();
    if (copies_.isEmpty()) return;
    writer_.waitForDone();
    for (const QString& copy : copies_) remove(copy);
    copies_.clear();
}

std::optional<Recovery::Copy> Recovery::left_behind(const QString& file, const Model& now) {
    std::optional<Copy> best;
    QDateTime newest;
    for (const Place& p : places_of(file))
        for (const QFileInfo& info : QDir(p.folder).entryInfoList(QDir::Files | QDir::Hidden)) {
            const QString name = info.fileName();
            if (!name.startsWith(p.stem + mark)) continue;
            bool number = false;
            const int pid = name.mid(p.stem.size() + mark.size()).toInt(&number);
            if (!number || is_running(pid)) continue;
            Loaded l = load_model(info.absoluteFilePath().toStdString());
            if (!l.model) continue;  // not ours to remove: somebody may want to look at it
            if (write_model(*l.model) == write_model(now)) {
                remove(info.absoluteFilePath());
                continue;
            }
            if (best && info.lastModified() <= newest) continue;
            newest = info.lastModified();
            best = Copy{info.absoluteFilePath(), std::move(*l.model)};
        }
    return best;
}

void Recovery::remove(const QString& copy) { ::unlink(copy.toUtf8().constData()); }

}  // namespace mossbed
