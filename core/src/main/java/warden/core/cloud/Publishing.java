package warden.core.cloud;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.survey.SurveyedAccount;

/** Who publishes the sites of one cloud, and by which pipelines. */
public interface Publishing {
    /** Returns the credentials that publish sites. */
    List<? extends Publisher> publishers();

    /** Returns the credentials that publish, or may, and that were not read. */
    List<UnreadCredential> unreadCredentials();

    /**
     * A credential that was not read.
     *
     * @param subject its identifier, or that of what would tell who it is
     * @param site the site that it publishes; absent when that is not known
     * @param isOne true when it is one credential with a name
     */
    record UnreadCredential(String subject, Optional<Site> site, boolean isOne) {}

    /** Returns which pipelines publish which sites. */
    Deployments deployments();

    /** Returns the owners of repositories, in lower case, whose pipelines the accounts let in: what they publish is no stranger's. */
    Set<String> repositoryOwners();

    /**
     * True for what a question must be about for it to concern every site of an account: the account itself, or a credential that publishes,
     * or may.
     */
    boolean concernsAll(SurveyedAccount account, String subject);
}
