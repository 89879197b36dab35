package warden.core.cloud;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import warden.core.access.Matrix;
import warden.core.pipeline.Pipeline;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.survey.Need;
import warden.core.survey.SurveyedAccount;
import warden.core.trim.Trimming;

/** The surveyed accounts of one provider together, with the sites that were found in them. */
public interface Cloud {
    /** Returns the accounts, in the order of the surveys. */
    List<? extends SurveyedAccount> accounts();

    /** Returns the sites, by name. */
    List<? extends Site> sites();

    /** Returns the account that an identifier is of; absent where none says so. */
    Optional<? extends SurveyedAccount> accountOf(String subject);

    /** Returns what is odd about what the site file says of this cloud's parts, a sentence each. */
    List<String> oddities();

    /** True for the identifier of something of this provider, whether or not a survey shows it. */
    boolean spells(String subject);

    /** Returns how people call the thing with this identifier; absent for what is not of this provider. */
    Optional<String> shortName(String subject);

    /** Returns how a site file names a store; absent for what is none of this provider. */
    Optional<String> statedName(String store);

    /** Returns the hosts by which people know edges and certificates, by their identifiers. */
    Map<String, String> hostsOfParts();

    /** True for the identifier of a store. */
    boolean isStore(String subject);

    /**
     * True for a reading of a store or an edge that none of these sites uses, so that a survey of the sites had no reason to ask for it.
     *
     * @param sites of whichever cloud
     */
    boolean isBeside(Need need, List<? extends Site> sites);

    /** Returns what keeps credentials of the accounts from being known. */
    List<Need> unreadPrincipals();

    /** Returns the stores that are known to be there, that were not read, and that are no site's. */
    List<UnreadStore> unreadStores();

    /** Returns the stores that hold the objects of sites, each once, with the first site that it serves. */
    List<SiteStore> siteStores();

    /** Returns the identifiers of the stores that serve no site, or only sites that are meant to keep their stores closed. */
    Set<String> closedStores();

    /** Returns values that only an edge and its store are to know, so that nobody is told. */
    Set<String> sharedSecrets();

    /** Finds out who publishes the sites. */
    Publishing publishing(List<Pipeline> pipelines);

    /**
     * Compares what publishing credentials need with what they may do, and proposes what would do.
     *
     * @param credential only this one, by its identifier or name; absent for all
     * @param sites only the credentials that publish one of these; none for all
     */
    List<? extends Trimming> trim(List<Pipeline> pipelines, Optional<String> credential, List<Site> sites);

    /** Returns who can do what with each store, in the order of the surveys, with a row for every publisher of its account. */
    List<Matrix> matrices(List<? extends Publisher> publishers, Predicate<String> wanted);

    /**
     * Returns what answers questions of who may do what, one JSON object a line; safe for use by several threads.
     *
     * @param explains whether answers carry the steps of the reasoning
     */
    UnaryOperator<String> questions(boolean explains);

    /** True for the line of a question that names something of this provider. */
    boolean isAsked(String question);

    /** True when something of this cloud answers for a host, or a record of its zones does. */
    boolean answersFor(String host);

    /** True for the address at which a store answers by itself, whether or not its site goes by it. */
    boolean isOwnAddress(String host);

    /** Returns what keeps from telling whether a site answers at a host; absent where all is read that could say so. */
    Optional<Need> unknownHost(String host);

    /**
     * Returns what follows visitors' requests.
     *
     * @param triesRemedies whether to look for the smallest change that mends what fails, by trying several; it takes its time
     */
    Following following(boolean triesRemedies);

    /**
     * Returns what changed since another state of the same accounts.
     *
     * @param old a cloud of the same provider
     * @param publishers the identifiers of the credentials that publish a site in either state
     */
    Changes since(Cloud old, Set<String> publishers);

    /** A store and the site whose objects it holds. */
    record SiteStore(ObjectStore store, Site site) {}

    /**
     * A store of which too little was read to tell what it is for.
     *
     * @param id its identifier
     * @param name how people call it
     */
    record UnreadStore(String id, String name) {}
}
