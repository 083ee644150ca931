#pragma once
#include <QFrame>

class QLabel;

namespace wheelwright {

/// A sentence about what went wrong, over the views until it is read away (Esc or its button). It never
/// blocks the work.
class NoticeBar : public QFrame {
    Q_OBJECT
  public:
    explicit NoticeBar(QWidget *parent = nullptr);
    void say(const QString &sentence);
    QString sentence() const;

  private:
    QLabel *m_text;
};

} // namespace wheelwright
