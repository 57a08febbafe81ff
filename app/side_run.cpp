#include "app/side_run.h"

#include <algorithm>

#include "core/base/problem.h"

namespace mossbed {

SideRun::~SideRun() {
    for (auto& r : runs_) r->stop = true;
    for (auto& r : runs_) r->thread.join();
}

bool SideRun::end_within(std::chrono::milliseconds patience) {
    give_up();
    const auto until = std::chrono::steady_clock::now() + patience;
    auto all_ended = [&] {
        return std::all_of(runs_.begin(), runs_.end(), [](const auto& r) { return r->ended.load(); });
    };
    while (!all_ended() && std::chrono::steady_clock::now() < until)
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
    return all_ended();
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
        r->ended = true;
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
