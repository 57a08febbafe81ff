#include "app/side_run.h"

#include "core/base/problem.h"

namespace mossbed {

SideRun::~SideRun() {
    for (auto& r : runs_) r->stop = true;
    for (auto& r : runs_) r->thread.join();
}

void SideRun::give_up() {
    for (auto& r : runs_) r->stop = true;
    current_ = 0;
}

void SideRun::start(Work work, Done done) {
    give_up();
    auto run = std::make_unique<Run>();
    run->serial = current_ = ++serial_;
    Run* r = run.get();
    run->thread = std::thread([this, r, work = std::move(work), done = std::move(done)] {
        Progress p;
        p.stop = &r->stop;
        QString text;
        try {
            text = work(p);
        } catch (const Stopped&) {
        } catch (const Trouble& t) {
            text = QString::fromStdString(t.problem.sentence());
        } catch (const std::exception& e) {
            text = e.what();
        }
        QMetaObject::invokeMethod(
            this, [this, serial = r->serial, text, done] { ended(serial, text, done); }, Qt::QueuedConnection);
    });
    runs_.push_back(std::move(run));
}

void SideRun::ended(long serial, const QString& text, const Done& done) {
    runs_.remove_if([&](const std::unique_ptr<Run>& r) {
        if (r->serial != serial) return false;
        r->thread.join();  // it has nothing left to do
        return true;
    });
    if (serial != current_) return;
    current_ = 0;
    done(text);
}

}  // namespace mossbed
