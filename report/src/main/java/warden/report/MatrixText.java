package warden.report;

import java.util.List;
import java.util.Map;
import warden.core.document.Shown;
import warden.core.policy.Actor;
import warden.core.reach.Ability;
import warden.core.reach.Extent;
import warden.core.reach.Matrix.Row;
import warden.core.reach.Matrix.Table;

/** The matrix of actors and abilities as a table. A cell that is dangerous carries an exclamation mark. */
public final class MatrixText {
    private static final int WHO = 44;
    private static final int CELL = 10;

    private final Style style;
    private final StringBuilder out = new StringBuilder();

    private MatrixText(Style style) {
        this.style = style;
    }

    /** Returns the text. */
    public static String of(List<Table> tables, Style style) {
        MatrixText text = new MatrixText(style);
        text.line(
                "Who can do what. ! marks what strangers should not be able to do; part and ? are explained below a table.");
        text.line("");
        tables.forEach(text::table);
        return text.out.toString();
    }

    private void line(String text) {
        out.append(text.stripTrailing()).append('\n');
    }

    private void table(Table table) {
        StringBuilder head =
                new StringBuilder(Lines.column(Shown.clean(table.bucket().name()), WHO));
        for (Ability ability : Ability.values()) {
            head.append(Lines.column(ability == Ability.CHANGE_RULES ? "rules" : ability.word(), CELL));
        }
        line(style.strong(head.toString()));
        for (Row row : table.rows()) {
            StringBuilder cells = new StringBuilder(Lines.column("  " + called(row), WHO));
            row.abilities().forEach((ability, extent) -> cells.append(cell(row, ability, extent)));
            line(cells.toString());
        }
        for (Row row : table.rows()) {
            notes(row);
        }
        line("");
    }

    private String cell(Row row, Ability ability, Extent extent) {
        String word =
                switch (extent.kind()) {
                    case ALL -> "all";
                    case SOME -> "part";
                    case NONE -> ".";
                    case UNKNOWN -> "?";
                };
        boolean stranger =
                row.grantee().who() instanceof Actor.Anyone || row.grantee().who() instanceof Actor.AnyAccount;
        boolean danger = stranger && extent.isSome() && ability != Ability.READ;
        String padded = Lines.column(danger ? word + " !" : word, CELL);
        if (danger) {
            return style.alarm(word + " !") + padded.substring(word.length() + 2);
        }
        return extent.kind() == Extent.Kind.UNKNOWN ? style.notice(padded) : padded;
    }

    private void notes(Row row) {
        for (Map.Entry<Ability, Extent> entry : row.abilities().entrySet()) {
            Extent extent = entry.getValue();
            String lead = "    " + called(row) + ", " + entry.getKey().word() + ": ";
            if (extent.kind() == Extent.Kind.SOME) {
                line(Lines.wrapped(lead + Shown.clean(String.join("; ", extent.which())), "      "));
            } else if (extent.kind() == Extent.Kind.UNKNOWN) {
                line(Lines.wrapped(lead + "not known, " + Shown.clean(extent.why()), "      "));
            }
        }
    }

    /** Shortens ARNs of the account's own things to what tells them apart. */
    private static String called(Row row) {
        String label = Shown.clean(row.grantee().label());
        if (label.startsWith("arn:aws:iam::")) {
            return label.substring("arn:aws:iam::".length());
        }
        return label.startsWith("arn:aws:cloudfront::")
                ? "distribution " + label.substring(label.lastIndexOf('/') + 1)
                : label;
    }
}
