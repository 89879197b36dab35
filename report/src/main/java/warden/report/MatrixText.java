package warden.report;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.access.Matrix;
import warden.core.access.Matrix.Row;
import warden.core.cloud.Cloud;
import warden.core.document.DisplayText;
import warden.core.survey.Need;

/** The matrix of actors and abilities as a table. A cell that is dangerous carries an exclamation mark. */
public final class MatrixText {
    private static final int WHO = 43;
    private static final int CELL = 11;
    private static final int MOST_NAMED = 4;
    private static final int MOST_PARTS = 8;
    private static final Set<String> OVER_TLS = Set.of(
            "* when aws:SecureTransport is not false",
            "* when aws:SecureTransport is true",
            "when aws:SecureTransport is not false",
            "when aws:SecureTransport is true");

    private final Set<String> closed;
    private final Style style;
    private final StringBuilder out = new StringBuilder();

    private final Names names;

    private MatrixText(Names names, Set<String> closed, Style style) {
        this.names = names;
        this.closed = closed;
        this.style = style;
    }

    /**
     * Returns the text.
     *
     * @param closed the ARNs of buckets that strangers should not even read
     * @param unread what keeps users and roles from being known, who therefore have no line
     */
    public static String of(
            List<Cloud> clouds, List<Matrix> tables, Set<String> closed, List<Need> unread, Style style) {
        MatrixText text = new MatrixText(new Names(clouds), closed, style);
        boolean onlyBuckets = tables.stream().allMatch(table -> table.store().startsWith("arn:"));
        text.line("Who can do what with each " + (onlyBuckets ? "bucket" : "bucket or container")
                + ". ! marks what strangers should not be able to do;");
        text.line(
                "part and ? (not known) are explained below the table; part, ? is at least part, the rest not known.");
        text.line("over TLS: all, save over plain HTTP.");
        text.line("");
        if (!unread.isEmpty()) {
            text.line("These users and roles have no line below, since they were not read:");
            text.out.append(Lines.unreadPrincipals(unread, style)).append('\n');
        }
        tables.forEach(text::table);
        return text.out.toString();
    }

    private void line(String text) {
        out.append(text.stripTrailing()).append('\n');
    }

    private void table(Matrix table) {
        StringBuilder head = new StringBuilder(Lines.column(DisplayText.clean(table.name()), WHO) + " ");
        for (Ability ability : Ability.values()) {
            head.append(Lines.column(ability == Ability.CHANGE_RULES ? "rules" : ability.word(), CELL));
        }
        line(style.strong(head.toString()));
        for (Row row : rows(table)) {
            StringBuilder cells = new StringBuilder(Lines.column("  " + called(row, names), WHO) + " ");
            row.abilities().forEach((ability, extent) -> cells.append(cell(table, row, ability, extent)));
            line(cells.toString());
        }
        notes(table);
        line("");
    }

    /** Users and roles that were not read are named once above all tables. */
    private static List<Row> rows(Matrix table) {
        List<Row> rows = new ArrayList<>(table.rows());
        table.unread().stream().filter(row -> row.kind() == Matrix.Kind.EDGE).forEach(rows::add);
        return rows;
    }

    private String cell(Matrix table, Row row, Ability ability, Extent extent) {
        String word =
                switch (extent.kind()) {
                    case ALL -> "all";
                    case SOME -> extent.mayBeWider() ? "part, ?" : isOverTls(extent) ? "over TLS" : "part";
                    case NONE -> ".";
                    case UNKNOWN -> "?";
                };
        boolean stranger = row.isStrangers();
        boolean fine = ability == Ability.READ && !closed.contains(table.store());
        boolean danger = stranger && extent.isSome() && !fine;
        String padded = Lines.column(danger ? word + " !" : word, CELL);
        if (danger) {
            return style.alarm(word + " !") + padded.substring(word.length() + 2);
        }
        return extent.kind() == Extent.Kind.UNKNOWN ? style.notice(padded) : padded;
    }

    /** True when the ability is whole, save over plain HTTP. */
    static boolean isOverTls(Extent extent) {
        return extent.which().size() == 1 && OVER_TLS.contains(extent.which().get(0));
    }

    /** Says below the table what "part" and "?" stand for; what several abilities or actors share is said once. */
    private void notes(Matrix table) {
        Map<String, List<String>> actorsByNote = new LinkedHashMap<>();
        for (Row row : rows(table)) {
            Map<String, List<String>> abilitiesByNote = new LinkedHashMap<>();
            row.abilities().forEach((ability, extent) -> note(extent).ifPresent(note -> abilitiesByNote
                    .computeIfAbsent(note, key -> new ArrayList<>())
                    .add(ability.word())));
            abilitiesByNote.forEach((note, abilities) -> actorsByNote
                    .computeIfAbsent(String.join(", ", abilities) + ": " + Lines.brief(note), key -> new ArrayList<>())
                    .add(called(row, names)));
        }
        actorsByNote.forEach((note, actors) -> line("  " + Lines.wrapped(some(actors) + ", " + note, "    ", style)));
    }

    private static String some(List<String> actors) {
        return actors.size() <= MOST_NAMED
                ? String.join(", ", actors)
                : String.join(", ", actors.subList(0, MOST_NAMED - 1)) + " and " + (actors.size() - MOST_NAMED + 1)
                        + " more";
    }

    /** The whole list stands in the JSON. */
    private static String parts(List<String> which) {
        return which.size() <= MOST_PARTS
                ? String.join("; ", which)
                : String.join("; ", which.subList(0, MOST_PARTS - 2)) + " and " + (which.size() - MOST_PARTS + 2)
                        + " more (--format json)";
    }

    private static Optional<String> note(Extent extent) {
        return switch (extent.kind()) {
            case ALL, NONE -> Optional.empty();
            case SOME -> {
                String part = isOverTls(extent) ? "over TLS" : parts(extent.which());
                yield extent.mayBeWider()
                        ? Optional.of("at least " + part + ", the rest not known: " + extent.why())
                        : isOverTls(extent) ? Optional.empty() : Optional.of(part);
            }
            case UNKNOWN -> Optional.of("not known, " + extent.why());
        };
    }

    /** Names an actor as briefly as can be told apart: ARNs of the account's own things are shortened. */
    static String called(Row row, Names names) {
        String label = DisplayText.name(row.who());
        if (label.startsWith("arn:aws:iam::")) {
            return label.substring("arn:aws:iam::".length());
        }
        if (label.startsWith("arn:aws:cloudfront::")) {
            return "edge of " + names.of(row.who());
        }
        return label.startsWith("arn:") ? label : DisplayText.name(names.idOf(row.who()));
    }
}
