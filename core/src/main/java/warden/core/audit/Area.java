package warden.core.audit;

import java.util.Locale;

/** What part of a set-up a check looks at. */
public enum Area {
    EXPOSURE("who can reach the storage"),
    POLICY("the documents themselves"),
    HOSTING("index, error, redirects, protection of content"),
    CDN("the edge in front of the storage"),
    CERTIFICATE("the certificate that visitors are shown"),
    DNS("names, and where they lead"),
    CREDENTIAL("what the publisher may do"),
    PIPELINE("how the site is published"),
    CONTENT("what is, or will be, published"),
    LEFTOVERS("what nobody uses any more");

    private final String about;

    Area(String about) {
        this.about = about;
    }

    /** Returns the word that reports and options use. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /** Returns a phrase that says what the area is about. */
    public String about() {
        return about;
    }
}
