package warden.core.site;

import java.util.List;
import warden.core.survey.SurveyedAccount;

/** A credential that publishes sites. */
public interface Publisher {
    /** Returns its identifier. */
    String id();

    /** Returns the account that it is known in. */
    SurveyedAccount account();

    /** Returns the sites that it is known or taken to publish; none when nothing tells. */
    List<? extends Site> sites();
}
