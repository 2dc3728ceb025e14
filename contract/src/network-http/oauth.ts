// The token endpoint that both networks share in form: RFC 6749 section 5, PKCE by RFC 7636.
import { IsCount, IsOneOf, IsSecret } from './kinds';

export class TokenReply {
  @IsSecret() access_token!: string;
  @IsOneOf(['Bearer']) token_type!: 'Bearer';
  /** In seconds. */
  @IsCount() expires_in!: number;
  @IsSecret() refresh_token!: string;
}

export interface TokenError {
  error: 'invalid_request' | 'invalid_client' | 'invalid_grant' | 'unsupported_grant_type';
  error_description: string;
}
