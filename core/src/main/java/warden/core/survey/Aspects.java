package warden.core.survey;

import java.util.Collection;
import java.util.List;

/** What a survey of one provider asks about: the table of its aspects. */
public interface Aspects {
    /** Returns what reading an aspect takes; empty when none is known. */
    String permission(String aspect);

    /** Returns what reading this takes: what was asked, if a survey asks it, else what its aspect takes; empty when none is known. */
    String permission(SurveyLine line);

    /** True when the code, given to a question about this aspect, means that there is none. */
    boolean meansAbsent(String aspect, String code);

    /** True when a page of a listing carries one of the marks by which the provider says that another page follows. */
    boolean saysMoreFollows(SurveyLine line);

    /** Returns everything that a survey takes, in alphabetical order: complete, and nothing more. */
    List<String> permissions();

    /** True for a permission of this provider. */
    boolean isPermission(String permission);

    /** Returns what grants these permissions of the provider, on one line, as it is written where they are granted. */
    String grant(Collection<String> permissions);
}
