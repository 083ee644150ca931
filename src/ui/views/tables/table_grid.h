// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/tables/table2d.h"
#include "session/session.h"
#include "ui/views/tables/table_face.h"
#include "ui/widgets/painted_parts.h"

#include <QElapsedTimer>
#include <QWidget>

class QLabel;
class QLineEdit;

namespace wheelwright {

/// One of the three tables of the quantity, or ('now') the other table of the controller that lies on the
/// bench instead: rpm to the right, load (or throttle) downwards as in a spreadsheet. Cells shade
/// from paper to ink in the hue of the table's content. With room it shows numbers, without it only shades
/// and the cursor. Arrows move, Shift extends, K keeps what is selected and goes on, digits = + − * begin an
/// entry, / interpolates, ~ smooths, Space locks, N notes. It shows values, their difference to a reference
/// in two hues around blank, or where the engine and the logs have been.
class TableGrid : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    TableGrid(Session &session, TableSide side, QWidget *parent = nullptr);

    TableSide side() const { return m_side; }
    QRect cellRect(CellIndex cell) const;
    bool showsNumbers() const;
    /// With which the numbers stand well apart: of a small table less than there may be room for.
    QSize fittingSize() const;
    /// Width with which numbers can be read.
    int readableWidth() const;
    /// Numbers are shown less these, looked up at their breakpoints; none: as they are.
    /// Shows differences to a table, of another than that of now where there is one; words: "now less First".
    void setReference(std::optional<Table2D> reference, std::optional<Table2D> subject = {},
                      const QString &words = {});
    void setShowsTrust(bool on); ///< blank: never reached, hatched: only inferred, solid: proven by logs
    QSize sizeHint() const override { return {640, 430}; }
    static constexpr int sliver = 20; ///< width with which it is only a strip of shades to be clicked
    QSize minimumSizeHint() const override { return {sliver, 150}; }

    int partCount() const override;
    PaintedPart part(int index) const override;
    int chosenPart() const override;
    void choosePart(int index) override;
    int partColumns() const override;
    QString columnName(int column) const override;
    QString rowName(int row) const override;

  public slots:
    void copy();
    void copyWithAxes();
    void copyPicture();
    void paste();

  protected:
    void paintEvent(QPaintEvent *event) override;
    bool eventFilter(QObject *watched, QEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void focusInEvent(QFocusEvent *event) override;
    void focusOutEvent(QFocusEvent *event) override;

  private:
    TableFace::Style layoutOf(const Table2D &table) const; ///< where the cells are; no colours
    std::optional<double> contentShown() const;            ///< none: the table belongs to all of them
    bool showsExtra() const;
    TableField field() const;
    QColor shadeOf(double magnitude) const;
    QString titleWords() const;
    QString spokenName() const;
    QString acrossText(double v, const TableField &field) const; ///< a breakpoint in the first row
    const Table2D &shownTable() const;
    std::optional<CellIndex> cellAt(QPointF position) const;
    CellIndex cursorIn(const Table2D &table, CellIndex cell) const;
    void drawHeaders(QPainter &painter, const Table2D &table, const TableFace::Style &layout) const;
    std::pair<double, double>
    scaleOf(const Table2D &table) const; ///< lowest shade, and how far to the highest
    const QPixmap &pictureOf(const Table2D &table, TableFace::Style style);
    void drawTrail(QPainter &painter, const Table2D &table, const TableFace::Style &layout) const;
    bool overLoad() const; ///< its rows are loads of the engine
    void drawSearch(QPainter &p, const Table2D &t, const TableFace::Style &l) const;
    void drawMarks(QPainter &painter, const Table2D &table, const TableFace::Style &layout) const;
    void drawSelection(QPainter &painter, const Table2D &table, const TableFace::Style &layout) const;
    QFont numberFont(const Table2D &table, double cellWidth, double cellHeight) const;
    QString cellText(double value) const;
    QString cellWords(const Table2D &table, CellIndex cell) const; ///< its place and its number
    QString placeWords(const TableAxis &axis, double at) const;
    QString widestText(const Table2D &table) const;
    double shownValue(const Table2D &table, CellIndex cell) const; ///< less the reference
    QRect chosenRect(const Table2D &table, const TableFace::Style &layout, CellIndex cell) const;
    void editNote();
    bool moveCursor(QKeyEvent *event);
    void beginEntry(const QString &typed);
    void reopenCell(); ///< an entry that starts from the cell's number
    void endEntry(bool keep);
    void showShare();
    void refresh();

    Session &m_session;
    TableSide m_side;
    QLineEdit *m_entry;
    QLabel *m_share;    ///< what an entry into 'now' would do to both ends
    QString m_reopened; ///< the number that reopenCell() put there
    struct Shown {
        std::uint64_t job;
        CalibratedQuantity quantity;
        std::optional<RecordId> extra;
        double content;
        bool operator==(const Shown &) const = default;
    };
    /// All that the picture of the cells follows from: while it stays, so does the picture.
    struct Pictured {
        Shown shown;
        UnitChoice units;
        QSize size;
        qreal pixelRatio;
        QColor paper;
        bool trust;
        const Proof *proof;
        std::uint64_t reference;
        bool operator==(const Pictured &) const = default;
    };
    mutable std::optional<Table2D> m_blended; ///< 'now', kept until it is another
    mutable Shown m_blendedOf{};
    std::optional<Table2D> m_reference, m_subject;
    QString m_referenceWords;
    std::uint64_t m_referenceCount = 0; ///< how many there have been
    bool m_showsTrust = false;
    TableFace m_face;
    std::optional<Pictured> m_pictured;
    QChar m_lonelySign; ///< + or − that nudged once and becomes an entry when a digit follows at once
    QElapsedTimer m_signPressed; ///< since then
};

} // namespace wheelwright
