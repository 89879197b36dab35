/**
 * Certificates as the survey shows them: whom they cover, whether they are valid, whether they renew. Judges nothing. Who may
 * enter: account, sites, trace, checks. It enters survey and documents.
 */
@NullMarked
package warden.core.aws.certificate;

import org.jspecify.annotations.NullMarked;
