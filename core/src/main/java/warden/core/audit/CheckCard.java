package warden.core.audit;

/**
 * A check's entry in the catalogue. The lists of checks, their documentation and the rules of reports are made from it.
 *
 * @param id never changes its meaning
 * @param worst how bad its worst findings are
 * @param summary what is wrong, as a phrase that follows the id
 * @param looksAt the aspects of the survey that it reads
 * @param why the consequence, in a sentence
 * @param remedy how to put it right, in a sentence
 * @param source the provider's documentation page that it follows, by title
 */
public record CheckCard(
        String id,
        Area area,
        Severity severity,
        Severity worst,
        String summary,
        String looksAt,
        String why,
        String remedy,
        String source) {
    /** Makes the card of a check all of whose findings are equally bad, or less. */
    public CheckCard(
            String id,
            Area area,
            Severity severity,
            String summary,
            String looksAt,
            String why,
            String remedy,
            String source) {
        this(id, area, severity, severity, summary, looksAt, why, remedy, source);
    }

    /** Returns this card for a check some of whose findings are this bad. */
    public CheckCard atWorst(Severity other) {
        return new CheckCard(id, area, severity, other, summary, looksAt, why, remedy, source);
    }

    /** Returns this card as it is told of another provider's sites: the same fact, other readings, consequences and remedies. */
    public CheckCard told(String otherLooksAt, String otherWhy, String otherRemedy, String otherSource) {
        return new CheckCard(id, area, severity, worst, summary, otherLooksAt, otherWhy, otherRemedy, otherSource);
    }

    public CheckCard {
        if (!isId(id)) {
            throw new IllegalArgumentException("a check's id is lower-case words joined by hyphens, not " + id);
        }
        for (String text : new String[] {summary, looksAt, why, remedy, source}) {
            if (text.isBlank()) {
                throw new IllegalArgumentException("the card of " + id + " has an empty part");
            }
        }
    }

    /** True for two or more words; by hand, since every start makes hundreds of cards. */
    private static boolean isId(String id) {
        boolean begins = true;
        boolean joins = false;
        for (int i = 0; i < id.length(); i++) {
            char letter = id.charAt(i);
            boolean isHyphen = letter == '-' && !begins;
            boolean isDigit = letter >= '0' && letter <= '9' && !begins;
            if (!isHyphen && !isDigit && (letter < 'a' || letter > 'z')) {
                return false;
            }
            begins = isHyphen;
            joins |= isHyphen;
        }
        return joins && !begins;
    }
}
