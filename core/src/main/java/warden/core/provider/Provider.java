package warden.core.provider;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Check;
import warden.core.cloud.Cloud;
import warden.core.mend.Mender;
import warden.core.names.Zone;
import warden.core.site.SiteFile;
import warden.core.survey.Aspects;
import warden.core.survey.Survey;
import warden.core.survey.SurveyedAccount;

/** A provider of clouds, with all that the program knows of it. */
public interface Provider {
    /** Returns the word by which the headers of surveys name it. */
    String name();

    /** Returns the table of what a survey of it asks about. */
    Aspects aspects();

    /** Opens the survey of one account. Cheap: what it holds is parsed when it is asked for. */
    SurveyedAccount account(Survey survey);

    /** Returns the zones of names that an account hosts. */
    List<? extends Zone> zones(SurveyedAccount account);

    /**
     * Finds the sites of some accounts of this provider.
     *
     * @param accounts as {@link #account} gave them
     * @param otherZones the zones of other providers, whose records may lead here
     * @param at the instant as of which requests are taken to be sent; absent when nothing tells
     */
    Cloud open(List<? extends SurveyedAccount> accounts, List<Zone> otherZones, SiteFile file, Optional<Instant> at);

    /** Returns the checks that its sites are asked, by area: those about any site, and its own. */
    List<Check> checks();

    /** Returns what says what to change about findings of its clouds. */
    Mender mender();
}
