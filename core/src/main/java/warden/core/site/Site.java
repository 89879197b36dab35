package warden.core.site;

import java.util.List;
import java.util.Optional;
import warden.core.site.SiteFile.StatedSite;
import warden.core.survey.SurveyedAccount;

/** One site: what belongs together, of whichever provider. */
public interface Site {
    /** Returns its name: the stated one, a host, or what its store is called. */
    String name();

    /** Returns the account that its store is in. */
    SurveyedAccount account();

    /** Returns the pattern that the parts make; absent when it cannot be told. */
    Optional<SitePattern> found();

    /** Returns what the owner says; absent when the site file does not speak of it. */
    Optional<StatedSite> stated();

    /** Returns its hosts, in lower case. */
    List<String> hosts();

    /** Returns the identifiers of the stores that hold its objects, as far as they are the account's. */
    List<String> storeIds();

    /** Returns the identifiers of the edges in front that were read. */
    List<String> edgeIds();

    /** Returns the identifiers of the edges in front of which nothing but their hosts is known. */
    List<String> unreadEdgeIds();

    /** True when the site is meant to be reached through its edge only. */
    boolean isMeantSealed();

    /** Returns the pattern that the owner states; absent when nothing is stated. */
    default Optional<SitePattern> meant() {
        return stated().flatMap(StatedSite::pattern);
    }

    /** True where the owner states that visitors, or the edge without signing, read the store as everybody. */
    default boolean isStatedOpen() {
        return meant().filter(SitePattern::needsOpenBucket).isPresent();
    }

    /** Returns the stated pattern, or else the found one. */
    default Optional<SitePattern> pattern() {
        return meant().or(this::found);
    }

    /** Returns the stated way of finding pages; pages of their own when nothing is stated. */
    default SiteFile.Routing routing() {
        return stated().flatMap(StatedSite::routing).orElse(SiteFile.Routing.PAGES);
    }
}
