// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_intake.h"
#include "core/evidence/log_review.h"

#include <initializer_list>
#include <iterator>
#include <limits>
#include <map>
#include <memory>
#include <numeric>
#include <string>
#include <vector>

namespace wheelwright::testing {

/// A log in memory: every role at every time.
struct Recorded {
    std::vector<double> timeS;
    std::map<ChannelRole, std::vector<double>> of;

    void add(double t, std::initializer_list<std::pair<ChannelRole, double>> values) {
        timeS.push_back(t);
        for (const auto &[role, v] : values) {
            of[role].resize(timeS.size() - 1, std::numeric_limits<double>::quiet_NaN());
            of[role].push_back(v);
        }
    }
    /// The job with this log in it.
    Job in(Job job, const std::string &id = "aa", const std::string &added = "2026-05-10T12:00:00Z") const {
        LogIntake::Summary s;
        s.info.id = id;
        s.info.beginS = timeS.front();
        s.info.endS = timeS.back();
        s.info.rows = static_cast<double>(timeS.size());
        LogChannel clock;
        clock.name = "t";
        clock.role = ChannelRole::time;
        clock.kind = ChannelKind::clock;
        clock.samples = s.info.rows;
        s.channels.push_back(clock);
        for (const auto &[role, values] : of) {
            LogChannel c;
            c.name = definitionOf(role).key;
            c.role = role;
            c.series = static_cast<double>(s.channels.size());
            c.samples = static_cast<double>(values.size());
            if (role == ChannelRole::ethanol) {
                s.info.contentBasis = ContentBasis::channel;
                s.info.content = std::accumulate(values.begin(), values.end(), 0.0) / c.samples;
                c.mean = s.info.content;
            }
            s.channels.push_back(c);
        }
        addLog(job, s, {id + ".csv", added, {}, {}, {}});
        return job;
    }
    LogTrace::Read read() const {
        return [this](std::size_t series) {
            if (series == 0) return timeS;
            auto at = of.begin();
            std::advance(at, static_cast<std::ptrdiff_t>(series) - 1);
            return at->second;
        };
    }
    std::shared_ptr<const LogReview> review(const Job &job, const std::string &id = "aa") const {
        return std::make_shared<const LogReview>(job, *logById(job, id), read());
    }
};

} // namespace wheelwright::testing
