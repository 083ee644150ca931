// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <memory>
#include <span>
#include <utility>
#include <vector>

namespace wheelwright {

/// Names a record within its list for as long as it is there, also in the job file. Ids ascend in the order
/// of the list.
using RecordId = std::int64_t;

/// A list of like records, in order. Copies share the records until one of them is changed, so that a job can
/// be copied for every edit whatever its lists hold, and records that are still shared need no comparing.
/// Equality is of the records: ids are bookkeeping. Whoever wants to read, reads through a const list:
/// non-const access takes the list out of sharing.
template <class T>
class Records {
  public:
    using value_type = T;
    using const_iterator = typename std::vector<T>::const_iterator;
    using iterator = typename std::vector<T>::iterator;

    Records() = default;
    Records(std::initializer_list<T> records) : Records(std::vector<T>(records)) {}
    Records(std::vector<T> records) { *this = std::move(records); }
    /// Records that stay the same at both ends of the list keep their ids, and so do those between that are
    /// replaced one for one.
    Records &operator=(std::vector<T> records);
    Records &operator=(std::initializer_list<T> records) { return *this = std::vector<T>(records); }

    std::size_t size() const { return m_rows ? m_rows->records.size() : 0; }
    bool empty() const { return size() == 0; }
    const std::vector<T> &values() const { return m_rows ? m_rows->records : none(); }
    operator const std::vector<T> &() const { return values(); }
    const T &operator[](std::size_t i) const { return values()[i]; }
    const T &front() const { return values().front(); }
    const T &back() const { return values().back(); }
    const_iterator begin() const { return values().begin(); }
    const_iterator end() const { return values().end(); }
    auto rbegin() const { return values().rbegin(); }
    auto rend() const { return values().rend(); }

    T &operator[](std::size_t i) { return edited().records[i]; }
    T &front() { return edited().records.front(); }
    T &back() { return edited().records.back(); }
    iterator begin() { return edited().records.begin(); }
    iterator end() { return edited().records.end(); }

    void push_back(T record) { insertAt(size(), std::move(record)); }
    /// Before the record that stands there, or at the end.
    void insertAt(std::size_t place, T record);
    void insertAt(std::size_t place, T record, RecordId id);
    void eraseAt(std::size_t place);
    iterator insert(const_iterator at, T record) {
        const auto place = static_cast<std::size_t>(at - values().begin());
        insertAt(place, std::move(record));
        return begin() + static_cast<std::ptrdiff_t>(place);
    }
    iterator erase(const_iterator at) {
        const auto place = at - values().begin();
        eraseAt(static_cast<std::size_t>(place));
        return begin() + place;
    }
    template <class Condition>
    void eraseIf(Condition condition);
    T &emplace_back() {
        push_back(T{});
        return back();
    }
    void clear() { m_rows.reset(); }
    void pop_back() { eraseAt(size() - 1); }
    /// New ones hold the defaults.
    void resize(std::size_t count);

    std::span<const RecordId> ids() const {
        return m_rows ? std::span<const RecordId>(m_rows->ids) : std::span<const RecordId>();
    }
    void setIds(std::vector<RecordId> ids) { edited().ids = std::move(ids); }
    /// Place of an id; size() where there is none.
    std::size_t placeOf(RecordId id) const;
    /// Whether both are known to hold the same without comparing anything.
    bool shares(const Records &other) const { return m_rows == other.m_rows; }

    bool operator==(const Records &other) const { return shares(other) || values() == other.values(); }

  private:
    struct Rows {
        std::vector<T> records;
        std::vector<RecordId> ids;
    };
    static const std::vector<T> &none() {
        static const std::vector<T> empty;
        return empty;
    }
    Rows &edited() {
        if (!m_rows)
            m_rows = std::make_shared<Rows>();
        else if (m_rows.use_count() > 1)
            m_rows = std::make_shared<Rows>(*m_rows);
        return *m_rows;
    }
    RecordId freeId(Rows &rows, std::size_t place) const;

    std::shared_ptr<Rows> m_rows; ///< nullptr: none
};

/// Ids stand so far apart that twenty records find room between any two.
inline constexpr RecordId recordSpacing = RecordId{1} << 20;

/// Ids of that many records in a new list.
std::vector<RecordId> spacedIds(std::size_t count);

// An id between its neighbours. Where there is none left, all get new ones: rare, and no more than a
// rewriting of the list.
template <class T>
RecordId Records<T>::freeId(Rows &rows, std::size_t place) const {
    std::vector<RecordId> &ids = rows.ids;
    if (place == ids.size()) return (ids.empty() ? 0 : ids.back()) + recordSpacing;
    const RecordId below = place == 0 ? 0 : ids[place - 1];
    if (ids[place] - below > 1) return below + (ids[place] - below) / 2;
    ids = spacedIds(ids.size());
    return ids[place] - recordSpacing / 2;
}

template <class T>
void Records<T>::insertAt(std::size_t place, T record) {
    Rows &rows = edited();
    insertAt(place, std::move(record), freeId(rows, place));
}

template <class T>
void Records<T>::insertAt(std::size_t place, T record, RecordId id) {
    Rows &rows = edited();
    const auto at = static_cast<std::ptrdiff_t>(place);
    rows.records.insert(rows.records.begin() + at, std::move(record));
    rows.ids.insert(rows.ids.begin() + at, id);
}

template <class T>
void Records<T>::eraseAt(std::size_t place) {
    Rows &rows = edited();
    const auto at = static_cast<std::ptrdiff_t>(place);
    rows.records.erase(rows.records.begin() + at);
    rows.ids.erase(rows.ids.begin() + at);
}

template <class T>
template <class Condition>
void Records<T>::eraseIf(Condition condition) {
    if (std::none_of(values().begin(), values().end(), condition)) return;
    Rows &rows = edited();
    std::size_t kept = 0;
    for (std::size_t i = 0; i < rows.records.size(); ++i) {
        if (condition(std::as_const(rows.records[i]))) continue;
        if (kept != i) {
            rows.records[kept] = std::move(rows.records[i]);
            rows.ids[kept] = rows.ids[i];
        }
        ++kept;
    }
    rows.records.resize(kept);
    rows.ids.resize(kept);
}

template <class T>
void Records<T>::resize(std::size_t count) {
    if (count == size()) return;
    Rows &rows = edited();
    const RecordId last = rows.ids.empty() ? 0 : rows.ids.back();
    const std::size_t before = rows.ids.size();
    rows.records.resize(count);
    rows.ids.resize(count);
    for (std::size_t i = before; i < count; ++i)
        rows.ids[i] = last + static_cast<RecordId>(i - before + 1) * recordSpacing;
}

template <class T>
std::size_t Records<T>::placeOf(RecordId id) const {
    const auto all = ids();
    const auto at = std::lower_bound(all.begin(), all.end(), id);
    return at != all.end() && *at == id ? static_cast<std::size_t>(at - all.begin()) : size();
}

template <class T>
Records<T> &Records<T>::operator=(std::vector<T> records) {
    const std::vector<T> &old = values();
    if (records == old) return *this;
    const std::size_t shorter = std::min(old.size(), records.size());
    std::size_t front = 0, back = 0;
    while (front < shorter && old[front] == records[front])
        ++front;
    while (back < shorter - front && old[old.size() - 1 - back] == records[records.size() - 1 - back])
        ++back;
    Records made;
    Rows &rows = made.edited();
    rows.records = std::move(records);
    rows.ids = spacedIds(rows.records.size());
    // Those that have a counterpart take its id; what is left over in the middle finds room there.
    const std::size_t replaced = std::min(old.size(), rows.records.size()) - front - back;
    std::vector<RecordId> ids(this->ids().begin(),
                              this->ids().begin() + static_cast<std::ptrdiff_t>(front + replaced));
    std::vector<RecordId> tail(this->ids().end() - static_cast<std::ptrdiff_t>(back), this->ids().end());
    const std::size_t fresh = rows.records.size() - ids.size() - back;
    const RecordId below = ids.empty() ? 0 : ids.back();
    if (tail.empty()) {
        for (std::size_t i = 0; i < fresh; ++i)
            ids.push_back(below + static_cast<RecordId>(i + 1) * recordSpacing);
    } else if (static_cast<RecordId>(fresh) < tail.front() - below) {
        const RecordId step = (tail.front() - below) / static_cast<RecordId>(fresh + 1);
        for (std::size_t i = 0; i < fresh; ++i)
            ids.push_back(below + static_cast<RecordId>(i + 1) * step);
    }
    if (ids.size() + tail.size() == rows.records.size()) {
        ids.insert(ids.end(), tail.begin(), tail.end());
        rows.ids = std::move(ids);
    }
    m_rows = std::move(made.m_rows);
    return *this;
}

} // namespace wheelwright
