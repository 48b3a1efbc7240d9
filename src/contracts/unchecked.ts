/** Stands in a browser for the libraries that the server checks requests with: decorators that do nothing. */
const nothing = (): PropertyDecorator => () => {};

export const ArrayMaxSize = nothing;
export const ArrayMinSize = nothing;
export const ArrayUnique = nothing;
export const IsArray = nothing;
export const IsBoolean = nothing;
export const IsEmail = nothing;
export const IsIn = nothing;
export const IsInt = nothing;
export const IsObject = nothing;
export const IsOptional = nothing;
export const IsString = nothing;
export const IsTimeZone = nothing;
export const Matches = nothing;
export const Max = nothing;
export const MaxLength = nothing;
export const Min = nothing;
export const MinLength = nothing;
export const Type = nothing;
export const ValidateBy = nothing;
export const ValidateIf = nothing;
export const ValidateNested = nothing;
